package lipsanon.format.v8;

/** Which identifiers were met: a bit each, in pages that are made where identifiers are. */
final class SeenIds {
  private static final int PAGE_BITS = 16;

  private final long[][] pages = new long[1 << 32 - PAGE_BITS][];

  /** Notes an identifier below 2^32; false if it was met before. */
  boolean add(long id) {
    int page = (int) (id >>> PAGE_BITS);
    long[] bits = pages[page];
    if (bits == null) {
      bits = new long[1 << PAGE_BITS - 6];
      pages[page] = bits;
    }
    int place = (int) (id & (1 << PAGE_BITS) - 1);
    long bit = 1L << place;
    boolean fresh = (bits[place >>> 6] & bit) == 0;
    bits[place >>> 6] |= bit;
    return fresh;
  }
}
