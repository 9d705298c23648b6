package lipsanon.cli.explore;

import java.util.ArrayList;
import java.util.List;

/** Cuts a line of the prompt into words. */
final class Words {
  private Words() {}

  /**
   * The words. A first argument that begins with a single quote is taken as a shell takes it, since
   * that is how answers print commands; all other quotes belong to selections and stay.
   */
  static List<String> of(String line) {
    List<String> words = new ArrayList<>();
    int at = 0;
    while (at < line.length()) {
      if (Character.isWhitespace(line.charAt(at))) {
        at++;
        continue;
      }
      StringBuilder word = new StringBuilder();
      boolean shell = words.size() == 1 && line.charAt(at) == '\'';
      at = shell ? shell(line, at, word) : plain(line, at, word);
      words.add(word.toString());
    }
    return words;
  }

  private static int shell(String line, int from, StringBuilder word) {
    boolean quoted = false;
    int at = from;
    while (at < line.length() && (quoted || !Character.isWhitespace(line.charAt(at)))) {
      char c = line.charAt(at++);
      if (c == '\'') {
        quoted = !quoted;
      } else if (c == '\\' && !quoted && at < line.length()) {
        word.append(line.charAt(at++));
      } else {
        word.append(c);
      }
    }
    return at;
  }

  private static int plain(String line, int from, StringBuilder word) {
    char quote = 0;
    int at = from;
    while (at < line.length() && (quote != 0 || !Character.isWhitespace(line.charAt(at)))) {
      char c = line.charAt(at++);
      if (quote == 0 && (c == '\'' || c == '"')) {
        quote = c;
      } else if (c == quote) {
        quote = 0;
      }
      word.append(c);
    }
    return at;
  }
}
