package lipsanon.label;

import java.util.regex.Pattern;

/**
 * Names of families of types. Runtimes and libraries make classes while a program runs, one for
 * each lambda, proxy, script or reload, with numbers and addresses in their names: these are one
 * family.
 */
public final class Families {
  private static final Pattern ADDRESS = Pattern.compile("[+/.]0x[0-9a-f]+");
  private static final Pattern LAMBDA = Pattern.compile("\\$\\$Lambda\\$[0-9]+");
  private static final Pattern PROXY = Pattern.compile("\\$Proxy[0-9]+");
  private static final Pattern PROXY_MODULE = Pattern.compile("^(jdk|com\\.sun)\\.proxy[0-9]*\\.");
  private static final Pattern ACCESSOR = Pattern.compile("(Accessor|LambdaForm\\$[A-Z]+)[0-9]+");
  private static final Pattern ENHANCED = Pattern.compile("\\$\\$[0-9a-f]{6,}|\\$[0-9a-zA-Z]{8}$");
  private static final Pattern SCRIPT = Pattern.compile("([Ss]cript)[_$]?[0-9]+");
  private static final Pattern MADE = Pattern.compile("([0-9]+|\\$[0-9a-zA-Z]{8})$");
  private static final Pattern HAS_DIGIT = Pattern.compile("[0-9]");

  private Families() {}

  /** The family's name; that of the type itself where it is an ordinary one. */
  public static String of(String type) {
    if (!HAS_DIGIT.matcher(type).find()) {
      return type;
    }
    String name = ADDRESS.matcher(type).replaceAll("");
    name = LAMBDA.matcher(name).replaceAll("\\$\\$Lambda");
    name = PROXY.matcher(name).replaceAll("\\$Proxy");
    name = PROXY_MODULE.matcher(name).replaceFirst("$1.proxy.");
    name = ACCESSOR.matcher(name).replaceAll("$1");
    if (name.contains("$$")) {
      name = ENHANCED.matcher(name).replaceAll("");
    }
    return SCRIPT.matcher(name).replaceAll("$1");
  }

  /** The name without a number, or the eight random signs of a code generator, at its end. */
  public static String stem(String type) {
    return MADE.matcher(type).replaceFirst("");
  }

  /** Whether what is behind the stem of a name has a digit in it, as made names mostly do. */
  public static boolean isNumbered(String type) {
    return HAS_DIGIT.matcher(type.substring(stem(type).length())).find();
  }
}
