package lipsanon.cli.term;

/**
 * Makes texts from elsewhere (names, contents and file names, which somebody else may control)
 * harmless for each form of output. Control characters, what turns the direction of writing, line
 * separators and broken surrogates become visible escapes.
 */
public final class SafeText {
  /** A message is no place for a text without end. */
  private static final int LONGEST_MESSAGE = 600;

  private SafeText() {}

  /** With visible escapes in place of all that acts instead of being read. */
  public static String visible(String text) {
    StringBuilder safe = null;
    for (int i = 0; i < text.length(); ) {
      int c = text.codePointAt(i);
      int next = i + Character.charCount(c);
      if (acts(c)) {
        if (safe == null) {
          safe = new StringBuilder(text.length() + 16).append(text, 0, i);
        }
        escape(safe, c);
      } else if (safe != null) {
        safe.appendCodePoint(c);
      }
      i = next;
    }
    return safe == null ? text : safe.toString();
  }

  /** Whether a code point does something to a terminal, an editor or a line. */
  static boolean acts(int c) {
    return switch (Character.getType(c)) {
      case Character.CONTROL,
              Character.FORMAT,
              Character.SURROGATE,
              Character.LINE_SEPARATOR,
              Character.PARAGRAPH_SEPARATOR,
              Character.UNASSIGNED ->
          true;
      default -> false;
    };
  }

  private static void escape(StringBuilder safe, int c) {
    switch (c) {
      case '\n' -> safe.append("\\n");
      case '\r' -> safe.append("\\r");
      case '\t' -> safe.append("\\t");
      default ->
          safe.append(c > 0xffff ? String.format("\\u{%x}", c) : String.format("\\u%04x", c));
    }
  }

  /** A message on one line, cut where it is very long. */
  public static String message(String text) {
    String safe = visible(text == null ? "" : text);
    return safe.length() <= LONGEST_MESSAGE
        ? safe
        : safe.substring(0, LONGEST_MESSAGE / 2)
            + " … "
            + safe.substring(safe.length() - LONGEST_MESSAGE / 2);
  }

  /** A cell that no spreadsheet takes for a formula. */
  public static String cell(String text) {
    String safe = visible(text);
    boolean formula = !safe.isEmpty() && "=+-@".indexOf(safe.charAt(0)) >= 0;
    return formula && !safe.matches("[+-]?[0-9.]+") ? "'" + safe : safe;
  }

  /** A text as Markdown that stands for itself. */
  static String markdown(String text) {
    return visible(text).replaceAll("([\\\\|<>*_`\\[\\]#~!])", "\\\\$1").replace("&", "&amp;");
  }

  /** A text as Markdown code, fenced by more backticks than it holds in a row. */
  static String code(String text) {
    String safe = visible(text);
    int run = 0;
    int longest = 0;
    for (char c : safe.toCharArray()) {
      run = c == '`' ? run + 1 : 0;
      longest = Math.max(longest, run);
    }
    String fence = "`".repeat(longest + 1);
    String pad = longest > 0 ? " " : "";
    return fence + pad + safe + pad + fence;
  }
}
