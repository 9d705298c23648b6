package lipsanon.index;

import java.util.Locale;

/**
 * The files of an index folder, besides {@link Meta}. Each is a column of {@link ColumnFormat} over
 * the object numbers; names carry the build, so that a new index can be written while an old one is
 * in use.
 */
enum IndexFiles {
  /** Identifier (an address or a serial). */
  ID,
  /** Object numbers in the order of their identifiers; only where those do not ascend. */
  ID_ORDER,
  /** Number of the type. */
  TYPE,
  /** Shallow size in units. */
  SHALLOW,
  /** Retained size in units; 0 for unretained objects. */
  RETAINED,
  /**
   * Object number less that of the dominator; 0 below the super-root and for unretained objects.
   */
  DOMINATOR,
  /**
   * The objects that the super-root dominates immediately, ascending: a column of its own length.
   */
  TOP,
  /** Depth; 0 for unretained objects. */
  DEPTH,
  /** Ordinal of {@link lipsanon.graph.Strength}. */
  STRENGTH,
  /** Where the record stands in the snapshot. */
  POSITION,
  /** Where the list of referring objects ends in INBOUND. */
  INBOUND_END,
  /** Lists of referring objects. */
  INBOUND,
  /** The joins, ascending: see {@link Joins}; a column of its own length. */
  JOIN,
  /** Where the list of the objects that keep a join ends in JOIN_FROM; by number of the join. */
  JOIN_END,
  /** Lists of the objects that keep joins, those that have it as their class left out. */
  JOIN_FROM;

  String file(long build) {
    return file(name().toLowerCase(Locale.ROOT).replace('_', '-'), build);
  }

  /** The file of a column that only a format's reader knows. */
  static String extra(String name, long build) {
    return file("extra-" + name, build);
  }

  private static String file(String name, long build) {
    return name + "-" + Long.toHexString(build) + ".col";
  }
}
