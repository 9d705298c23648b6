package lipsanon.select;

import java.util.ArrayList;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Cuts the text of a selection into words, quoted texts and signs. */
final class SelectionTokens {
  /** A piece of the text: quoted ones are never keywords. */
  record Token(String text, boolean quoted, boolean sign, int at) {
    boolean is(String word) {
      return !quoted && text.equalsIgnoreCase(word);
    }
  }

  private static final String SIGNS = "(),=!~<>";

  /** A page's element, {@code <section class="berth">}, which is no comparison. */
  private static final Pattern TAG =
      Pattern.compile("<[A-Za-z][^\\s<>]*( [^\\s<>=]+=\"[^\"]*\")*>");

  private final String text;
  private final List<Token> tokens = new ArrayList<>();
  private final Matcher tag;
  private int at;

  private SelectionTokens(String text) {
    this.text = text;
    this.tag = TAG.matcher(text);
  }

  static List<Token> of(String text) throws SelectionException {
    SelectionTokens cutter = new SelectionTokens(text);
    while (cutter.next()) {
      continue;
    }
    return cutter.tokens;
  }

  private boolean next() throws SelectionException {
    while (at < text.length() && Character.isWhitespace(text.charAt(at))) {
      at++;
    }
    if (at == text.length()) {
      return false;
    }
    char c = text.charAt(at);
    int from = at;
    if (c == '"' || c == '\'') {
      quoted(c);
    } else if (c == '<' && tag.region(at, text.length()).lookingAt()) {
      at = tag.end();
      tokens.add(new Token(tag.group(), false, false, from));
    } else if (SIGNS.indexOf(c) >= 0) {
      at += at + 1 < text.length() && text.charAt(at + 1) == '=' && "!<>".indexOf(c) >= 0 ? 2 : 1;
      tokens.add(new Token(text.substring(from, at), false, true, from));
    } else {
      word();
    }
    return true;
  }

  private void quoted(char quote) throws SelectionException {
    int from = at++;
    StringBuilder inside = new StringBuilder();
    while (at < text.length() && text.charAt(at) != quote) {
      if (text.charAt(at) == '\\' && at + 1 < text.length()) {
        at++;
      }
      inside.append(text.charAt(at++));
    }
    if (at == text.length()) {
      throw new SelectionException("a text begins here and does not end: " + quote, from);
    }
    at++;
    tokens.add(new Token(inside.toString(), true, false, from));
  }

  private void word() {
    int from = at;
    int braces = 0;
    while (at < text.length()) {
      char c = text.charAt(at);
      braces += c == '{' ? 1 : c == '}' ? -1 : 0;
      boolean ends = Character.isWhitespace(c) || SIGNS.indexOf(c) >= 0 || c == '"';
      if (braces <= 0 && ends) {
        break;
      }
      at++;
    }
    tokens.add(new Token(text.substring(from, at), false, false, from));
  }
}
