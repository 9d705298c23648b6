package lipsanon.analysis;

import java.util.List;
import java.util.Locale;
import java.util.regex.Pattern;
import lipsanon.index.TypeInfo;

/**
 * Picks types by name.
 *
 * @param match a glob with {@code *} and {@code ?}, or a part of a name, in any case; null for all
 * @param mine prefixes of the user's own packages; empty: everything but the runtime's own library
 *     where {@code onlyMine} asks for it
 * @param onlyMine whether to leave out what is not the user's
 */
public record TypeFilter(String match, List<String> mine, boolean onlyMine) {
  /** Everything. */
  public static final TypeFilter ALL = new TypeFilter(null, List.of(), false);

  /** Whether a type passes. */
  public boolean accepts(TypeInfo type) {
    return (!onlyMine || isMine(type)) && (match == null || matches(type.name()));
  }

  /** Whether a type is the user's own. */
  public boolean isMine(TypeInfo type) {
    if (mine.isEmpty()) {
      return !type.library() && !type.foreign();
    }
    for (String prefix : mine) {
      String stem = prefix.endsWith("*") ? prefix.substring(0, prefix.length() - 1) : prefix;
      if (type.name().startsWith(stem)) {
        return true;
      }
    }
    return false;
  }

  private boolean matches(String name) {
    if (match.indexOf('*') >= 0 || match.indexOf('?') >= 0) {
      return glob(match).matcher(name).matches();
    }
    return name.toLowerCase(Locale.ROOT).contains(match.toLowerCase(Locale.ROOT));
  }

  private static Pattern glob(String glob) {
    StringBuilder regex = new StringBuilder();
    for (char c : glob.toCharArray()) {
      regex.append(c == '*' ? ".*" : c == '?' ? "." : Pattern.quote(String.valueOf(c)));
    }
    return Pattern.compile(regex.toString(), Pattern.CASE_INSENSITIVE);
  }
}
