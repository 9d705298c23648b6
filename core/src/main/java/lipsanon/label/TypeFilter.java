package lipsanon.label;

import java.util.List;
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
    return (!onlyMine || isMine(type)) && (match == null || fits(type.name()));
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

  /** Whether a name fits the pattern, or has it as a part. */
  public boolean fits(String name) {
    if (match == null) {
      return true;
    }
    return Wildcard.of(match).fits(name);
  }
}
