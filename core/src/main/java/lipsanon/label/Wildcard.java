package lipsanon.label;

/**
 * A pattern in which {@code *} stands for any letters and {@code ?} for one, in any case; without
 * these a text that may stand anywhere. Matching takes no more than the product of both lengths,
 * whatever the pattern: texts come from snapshots, and are not to be trusted.
 */
public final class Wildcard {
  private final String pattern;

  private Wildcard(String pattern) {
    this.pattern = pattern;
  }

  /** Takes a pattern as users write it. */
  public static Wildcard of(String text) {
    boolean wild = text.indexOf('*') >= 0 || text.indexOf('?') >= 0;
    return new Wildcard(fold(wild ? text : "*" + text + "*"));
  }

  private static String fold(String text) {
    StringBuilder folded = new StringBuilder(text.length());
    for (int i = 0; i < text.length(); i++) {
      folded.append(fold(text.charAt(i)));
    }
    return folded.toString();
  }

  private static char fold(char c) {
    return Character.toLowerCase(Character.toUpperCase(c));
  }

  /** Whether a text fits as a whole. */
  public boolean fits(String text) {
    int at = 0;
    int t = 0;
    int star = -1;
    int resume = 0;
    while (t < text.length()) {
      char wanted = at < pattern.length() ? pattern.charAt(at) : 0;
      if (at < pattern.length() && wanted == '*') {
        star = at++;
        resume = t;
      } else if (at < pattern.length() && (wanted == '?' || wanted == fold(text.charAt(t)))) {
        at++;
        t++;
      } else if (star >= 0) {
        at = star + 1;
        t = ++resume;
      } else {
        return false;
      }
    }
    while (at < pattern.length() && pattern.charAt(at) == '*') {
      at++;
    }
    return at == pattern.length();
  }
}
