package lipsanon.scripts;

import java.util.ArrayDeque;
import java.util.Deque;
import java.util.Set;

/**
 * The words and marks of a script in turn. Comments, texts, numbers and regular expressions are
 * passed over; the parts of a template between its braces are read. Whether a slash begins a
 * regular expression is told by what stands before it.
 */
final class ScriptTokens {
  /** Words behind which a value begins, so that a slash cannot divide. */
  private static final Set<String> BEFORE_VALUE =
      Set.of(
          "return",
          "typeof",
          "case",
          "in",
          "of",
          "delete",
          "void",
          "throw",
          "new",
          "else",
          "do",
          "instanceof",
          "yield",
          "await");

  private final String script;
  private int at;
  private int line;
  private int lineBegin;
  private int beginLine;
  private int beginColumn;
  private String word = "";
  private char mark;
  private boolean startsLine;

  /** By open template: the braces that are open within its part. */
  private final Deque<int[]> templates = new ArrayDeque<>();

  ScriptTokens(String script) {
    this.script = script;
  }

  /** The word, "" if the token is a mark. */
  String word() {
    return word;
  }

  /** The mark, if the token is one; 0 for a value that is passed over. */
  char mark() {
    return mark;
  }

  /** Line of the token, from 0. */
  int line() {
    return beginLine;
  }

  /** Column of the token, from 0. */
  int column() {
    return beginColumn;
  }

  /** Whether nothing stands before the token in its line. */
  boolean startsLine() {
    return startsLine;
  }

  /** Goes to the next token; false at the end. */
  boolean next() {
    boolean value = endsValue();
    startsLine = at == 0;
    while (at < script.length() && skipsBlank()) {}
    if (at >= script.length()) {
      return false;
    }
    int begin = at;
    beginLine = line;
    beginColumn = at - lineBegin;
    word = "";
    mark = 0;
    char c = script.charAt(at);
    if (isWord(c)) {
      while (at < script.length() && isWord(script.charAt(at))) {
        at++;
      }
      boolean number = c >= '0' && c <= '9';
      word = number ? "" : script.substring(begin, at);
    } else if (c == '"' || c == '\'') {
      text(c);
    } else if (c == '`') {
      at++;
      template();
    } else if (c == '/' && !value) {
      expression();
    } else {
      mark = c;
      at++;
      inTemplate(c);
    }
    return true;
  }

  /** Whether what was read last ends a value: then a slash divides. */
  private boolean endsValue() {
    if (!word.isEmpty()) {
      return !BEFORE_VALUE.contains(word);
    }
    return at > 0 && (mark == 0 || mark == ')' || mark == ']' || mark == '}');
  }

  private static boolean isWord(char c) {
    return c == '$' || c == '\\' || Character.isJavaIdentifierPart(c) && c != 0;
  }

  private boolean skipsBlank() {
    char c = script.charAt(at);
    if (c == '\n') {
      at++;
      newLine();
      startsLine = true;
      return true;
    }
    if (c <= ' ' || c == '\u00a0' || c == '\ufeff') {
      at++;
      return true;
    }
    if (script.startsWith("//", at)) {
      int end = script.indexOf('\n', at);
      at = end < 0 ? script.length() : end;
      return true;
    }
    if (script.startsWith("/*", at)) {
      int end = script.indexOf("*/", at + 2);
      step(end < 0 ? script.length() : end + 2);
      return true;
    }
    return false;
  }

  private void newLine() {
    line++;
    lineBegin = at;
  }

  /** Goes to a place, counting lines. */
  private void step(int to) {
    while (at < to) {
      if (script.charAt(at++) == '\n') {
        newLine();
      }
    }
  }

  private void text(char quote) {
    at++;
    while (at < script.length() && script.charAt(at) != quote && script.charAt(at) != '\n') {
      step(Math.min(script.length(), at + (script.charAt(at) == '\\' ? 2 : 1)));
    }
    at =
        Math.min(
            script.length(), at + (at < script.length() && script.charAt(at) == quote ? 1 : 0));
  }

  /** The text of a template, up to its end or to a brace. */
  private void template() {
    while (at < script.length()) {
      char c = script.charAt(at);
      if (c == '`') {
        at++;
        return;
      }
      if (script.startsWith("${", at)) {
        at += 2;
        templates.push(new int[1]);
        mark = '(';
        return;
      }
      step(Math.min(script.length(), at + (c == '\\' ? 2 : 1)));
    }
  }

  /** A part of a template counts as one in parentheses. */
  private void inTemplate(char c) {
    int[] open = templates.peek();
    if (open == null) {
      return;
    }
    if (c == '{') {
      open[0]++;
    } else if (c == '}' && open[0]-- == 0) {
      templates.pop();
      mark = ')';
      int depth = templates.size();
      template();
      if (templates.size() > depth) {
        // the next part begins at once: its opening and this one's closing are one another's
        mark = ' ';
      }
    }
  }

  private void expression() {
    at++;
    boolean inClass = false;
    while (at < script.length()) {
      char c = script.charAt(at);
      if (c == '\n') {
        return;
      }
      step(Math.min(script.length(), at + (c == '\\' ? 2 : 1)));
      if (c == '/' && !inClass) {
        break;
      }
      inClass = c == '[' || inClass && c != ']';
    }
  }
}
