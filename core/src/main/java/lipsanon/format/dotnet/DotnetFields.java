package lipsanon.format.dotnet;

import java.util.regex.Matcher;
import java.util.regex.Pattern;
import lipsanon.index.Via;

/**
 * Says fields as whoever wrote the program knows them. The compiler keeps the local variables of
 * methods that wait (and of those that yield) as fields of types that it makes.
 */
public final class DotnetFields {
  /** {@code <plans>5__2}, in what the runtime keeps of a method that waits. */
  private static final Pattern KEPT =
      Pattern.compile("(?:StateMachine\\.)?<(\\w+)>\\d+__\\d+(\\..*)?");

  /** The same of parameters, which keep their names. */
  private static final Pattern GIVEN = Pattern.compile("(StateMachine\\.)?([A-Za-z_]\\w*(\\..*)?)");

  /** {@code Space.Type.<Method>d__3}; of a lambda {@code Space.Type.<>c.<<Method>b__0_1>d}. */
  private static final Pattern MADE =
      Pattern.compile("([\\w.]+?)\\.(?:<>c\\w*\\.)?<+(\\w+)>[\\w|>]*");

  /**
   * {@code Space.Type.<>c__DisplayClass5_4.<Method>b__33}, {@code Space.Type.<Method>d__3.Next}.
   */
  private static final Pattern RUN =
      Pattern.compile("([\\w.]+?)\\.(?:<>c\\w*\\.)?<+(\\w+)>[\\w|>]*(?:\\.\\w+)?");

  private static final String BOX = "AsyncStateMachineBox<";

  private DotnetFields() {}

  /**
   * A field of an object.
   *
   * @param owner the type that declares it, with its arguments
   * @param path names of fields, with dots where structures stand in the object
   */
  public static Via via(String owner, String path) {
    Matcher kept = path.indexOf('<') < 0 ? null : KEPT.matcher(path);
    if (kept != null && kept.matches()) {
      String method = method(owner);
      if (!method.isEmpty()) {
        String rest = kept.group(2) == null ? "" : kept.group(2);
        return new Via(Via.Kind.LOCAL, method, kept.group(1) + rest, -1);
      }
    }
    Via given = owner.indexOf('<') < 0 ? null : given(owner, path);
    if (given != null) {
      return given;
    }
    Via service = DotnetServices.of(owner, path);
    return service != null ? service : new Via(Via.Kind.FIELD, owner, path, -1);
  }

  /** A parameter of a method that waits; null: it is none. */
  private static Via given(String owner, String path) {
    Matcher given = GIVEN.matcher(path);
    boolean boxed = owner.contains(BOX);
    if (!given.matches() || boxed && given.group(1) == null) {
      return null;
    }
    String method = method(owner);
    return method.isEmpty() ? null : new Via(Via.Kind.LOCAL, method, given.group(2), -1);
  }

  /**
   * A method as whoever wrote the program knows it: a lambda, and what the compiler has made of a
   * method that waits, by the method that it stands in.
   *
   * @param name of the type, with a plus before nested ones, and of the method after a dot
   */
  public static String runs(String name) {
    String plain = name.replace('+', '.');
    Matcher matcher = RUN.matcher(plain);
    return matcher.matches() ? matcher.group(1) + "." + matcher.group(2) : plain;
  }

  /** The method whose variables a type has, or "". */
  private static String method(String type) {
    String made = type;
    int box = type.indexOf(BOX);
    if (box >= 0 && type.endsWith(">")) {
      // its arguments: the result, and what the compiler has made
      int last = -1;
      int depth = 0;
      for (int i = box + BOX.length(); i < type.length() - 1; i++) {
        char c = type.charAt(i);
        // names that the compiler makes have brackets too, in pairs
        depth += c == '<' ? 1 : c == '>' ? -1 : 0;
        last = c == ',' && depth == 0 && last < 0 ? i : last;
      }
      made = last < 0 ? "" : type.substring(last + 1, type.length() - 1).trim();
    }
    Matcher matcher = MADE.matcher(made.replaceAll("(d__\\d+|>d)<.*", "$1"));
    return matcher.matches() ? matcher.group(1) + "." + matcher.group(2) : "";
  }
}
