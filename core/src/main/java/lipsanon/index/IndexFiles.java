package lipsanon.index;

/**
 * The files of an index folder, besides {@link Meta}. Each is a column of {@link ColumnFormat} over
 * the object numbers; names carry the build, so that a new index can be written while an old one is
 * in use.
 */
enum IndexFiles {
  /** Identifier (an address or a serial). */
  ID,
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
  INBOUND;

  String file(long build) {
    return name().toLowerCase(java.util.Locale.ROOT).replace('_', '-')
        + "-"
        + Long.toHexString(build)
        + ".col";
  }
}
