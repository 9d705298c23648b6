package lipsanon.label;

/**
 * How elements of a page are written: in answers with their attributes within the tag, and in a
 * snapshot as a type and a label that stands behind it.
 */
public final class ElementNames {
  /** How the label of an element ends that was taken out of its page; attributes come before. */
  public static final String DETACHED = "detached";

  private static final String BETWEEN = ", ";

  private ElementNames() {}

  /** An element's type and label apart. */
  public record Parts(String type, String label) {}

  /** Whether a type is that of an element: its tag. */
  public static boolean isTag(String type) {
    return type.startsWith("<") && type.endsWith(">");
  }

  /** A type with the label of its objects; what is no element has its label behind it. */
  public static String written(String type, String label) {
    boolean detached = label.equals(DETACHED) || label.endsWith(BETWEEN + DETACHED);
    String attributes = label;
    if (detached) {
      int end = label.length() - DETACHED.length() - BETWEEN.length();
      attributes = label.substring(0, Math.max(0, end));
    }
    if (!isTag(type) || attributes.isBlank()) {
      return type + " " + label;
    }
    String tag = type.substring(0, type.length() - 1) + " " + attributes.strip() + ">";
    return detached ? tag + " " + DETACHED : tag;
  }

  /** What was {@link #written} of an element with attributes; null of anything else. */
  public static Parts apart(String written) {
    int space = written.indexOf(' ');
    int end = written.lastIndexOf('>');
    if (!written.startsWith("<") || space < 0 || end < space) {
      return null;
    }
    String attributes = written.substring(space + 1, end);
    String state = written.substring(end + 1).strip();
    return new Parts(
        written.substring(0, space) + ">",
        state.isEmpty() ? attributes : attributes + BETWEEN + state);
  }
}
