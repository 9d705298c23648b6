package lipsanon.format.v8;

import java.util.ArrayList;
import java.util.List;
import java.util.regex.Pattern;

/**
 * Names of a browser's own classes, made short: of a template only what a table or list is of. The
 * rest (how keys are hashed, how members are traced) is hundreds of characters, and tells nothing.
 */
final class CppNames {
  /** Beyond this it is no name of a class, but something that looks like one. */
  private static final int LONGEST = 20_000;

  private static final int DEEPEST = 40;
  private static final Pattern NAMESPACES =
      Pattern.compile("\\b(?:[a-z_0-9]+::|\\(anonymous namespace\\)::)+");
  private static final Pattern TECHNICAL =
      Pattern.compile("(Traits|Tag|Policy|Extractor|Allocator)$|^k[A-Z]|HeapCollectionType::");

  /** What stands for its only argument: a reference to it. */
  private static final Pattern REFERENCE = Pattern.compile(".*(Member|LinkedListNode)$");

  private final String text;
  private int at;
  private int depth;

  private CppNames(String text) {
    this.text = text;
  }

  /** The name, shorter if it is that of a template; others, and what is none, as they are. */
  static String shortened(String name) {
    boolean template = name.indexOf('<') > 0 && name.length() <= LONGEST;
    if (!template || name.indexOf('@') >= 0) {
      return name;
    }
    CppNames reader = new CppNames(name);
    String read = reader.type();
    return read == null || reader.at < name.length() ? name : read;
  }

  /** From here to the next comma or the end of the arguments; null if it is none. */
  private String type() {
    String head = plain();
    if (at == text.length() || text.charAt(at) != '<') {
      return depth == 0 ? head : NAMESPACES.matcher(head).replaceAll("");
    }
    if (++depth > DEEPEST) {
      return null;
    }
    List<String> arguments = new ArrayList<>();
    do {
      at++;
      String argument = type();
      if (argument == null) {
        return null;
      }
      if (!TECHNICAL.matcher(argument.replaceFirst("<.*", "")).find()) {
        arguments.add(argument);
      }
    } while (at < text.length() && text.charAt(at) == ',');
    depth--;
    if (at == text.length()) {
      return null;
    }
    at++;
    return of(head, arguments, plain());
  }

  private String plain() {
    int from = at;
    while (at < text.length() && "<,>".indexOf(text.charAt(at)) < 0) {
      at++;
    }
    return text.substring(from, at).strip();
  }

  private String of(String head, List<String> arguments, String behind) {
    String inner = String.join(", ", arguments);
    String name = NAMESPACES.matcher(head).replaceAll("");
    if (depth > 0 && arguments.size() == 1 && REFERENCE.matcher(name).matches()) {
      return inner + behind;
    }
    if (name.equals("KeyValuePair")) {
      return inner;
    }
    if (name.equals("HashTable")) {
      // its entries are told again with the key that they begin with
      String entry = arguments.isEmpty() ? "" : arguments.get(arguments.size() - 1);
      return arguments.size() > 1 && entry.startsWith(arguments.get(0)) ? entry : inner;
    }
    return (depth == 0 ? head : name) + "<" + inner + ">" + behind;
  }
}
