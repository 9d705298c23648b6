package lipsanon.format.hprof;

/** Names of classes as the JVM has them, told as Java writes them. */
public final class JavaNames {
  private JavaNames() {}

  /** A class name as Java source has it: {@code java.lang.String}, {@code byte[][]}. */
  public static String of(String raw) {
    int dimensions = 0;
    while (dimensions < raw.length() && raw.charAt(dimensions) == '[') {
      dimensions++;
    }
    if (dimensions == 0 || dimensions == raw.length()) {
      return raw.replace('/', '.');
    }
    String element = raw.substring(dimensions);
    String name =
        switch (element.charAt(0)) {
          case 'Z' -> "boolean";
          case 'C' -> "char";
          case 'F' -> "float";
          case 'D' -> "double";
          case 'B' -> "byte";
          case 'S' -> "short";
          case 'I' -> "int";
          case 'J' -> "long";
          default -> element.endsWith(";") ? element.substring(1, element.length() - 1) : element;
        };
    return name.replace('/', '.') + "[]".repeat(dimensions);
  }
}
