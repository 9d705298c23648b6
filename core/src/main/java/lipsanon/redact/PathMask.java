package lipsanon.redact;

import java.util.Set;

/**
 * Hides the folders of a path or address and keeps what tells whose code it is: the last part,
 * archives, and all from {@code node_modules} on. Parts keep their lengths; equal ones stay equal.
 */
public final class PathMask {
  /** Signs that no text of letters consists of. */
  private static final String SIGNS = "*+~^=%&$";

  private static final Set<String> KEPT =
      Set.of("BOOT-INF", "WEB-INF", "META-INF", "classes", "lib", "", ".", "..");

  private static final Set<String> REST_KEPT = Set.of("node_modules");

  private PathMask() {}

  /** Whether a name holds folders. */
  public static boolean isPath(String name) {
    return name.indexOf('/') >= 0 || name.indexOf('\\') >= 0;
  }

  /** The path with its folders hidden, as long as before. */
  public static String of(String path) {
    int query = path.indexOf('?');
    StringBuilder masked = new StringBuilder();
    String rest = query < 0 ? path : path.substring(0, query);
    int at = 0;
    while (at < rest.length()) {
      int end = at;
      while (end < rest.length() && rest.charAt(end) != '/' && rest.charAt(end) != '\\') {
        end++;
      }
      String part = rest.substring(at, end);
      if (REST_KEPT.contains(part)) {
        masked.append(rest, at, rest.length());
        break;
      }
      boolean last = end == rest.length();
      // a scheme, a drive, an archive with what is in it
      boolean kept = last || KEPT.contains(part) || part.endsWith(":") || part.endsWith("!");
      masked.append(kept ? part : signs(part));
      if (!last) {
        masked.append(rest.charAt(end));
      }
      at = end + 1;
    }
    if (query >= 0) {
      masked.append('?').append("*".repeat(path.length() - query - 1));
    }
    return masked.toString();
  }

  private static String signs(String part) {
    StringBuilder text = new StringBuilder();
    long state = part.hashCode();
    for (int i = 0; i < part.length(); i++) {
      state = state * 6364136223846793005L + 1442695040888963407L;
      text.append(SIGNS.charAt((int) (state >>> 61)));
    }
    return text.toString();
  }
}
