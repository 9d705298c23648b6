package lipsanon.index;

/**
 * The files that hold columns: one value a snapshot object, addressed by the object's number.
 *
 * <p>All values are little-endian, and sections begin at multiples of 8.
 *
 * <pre>
 * File   --> Header Data Sums Footer
 * Header --> magic u64, version u32, kind u32, build u64, count u64
 * Sums   --> u32*                          (CRC-32C of each piece of what stands before, padded)
 * Footer --> directory u64, sums u64, crc u32, end u32
 * </pre>
 *
 * {@code build} is the same in all files of one index, so that files of two builds are never mixed.
 * {@code directory} is the position of the block directory (packed) or of nothing (bytes), and
 * {@code crc} the CRC-32C of all that stands before it. {@code sums} is where the checksums of the
 * pieces begin: a piece is verified when something of it is read for the first time.
 *
 * <p>Kind {@link #PACKED}: blocks of 64 values. A block stores its least value in the directory and
 * of each value the difference to it, in as many bits as the greatest difference takes (0 to 64),
 * least significant bits first, so that a block of width w takes exactly w words.
 *
 * <pre>
 * Data      --> u64*                       (words of the blocks, then the directory)
 * Directory --> (least i64, first-word &lt;&lt; 7 | width)*
 * </pre>
 *
 * Differences to the block's least value were chosen because neighbours in memory are alike: they
 * were allocated together. The directory lets any value be found with two reads.
 *
 * <p>Kind {@link #BYTES}: bytes without structure; a packed column beside it says where entries
 * end.
 */
final class ColumnFormat {
  static final long MAGIC = 0x4e4d4c4353504c49L;
  static final int VERSION = 2;
  static final int PACKED = 1;
  static final int BYTES = 2;
  static final int END = 0x0a444e45;

  static final int MAGIC_OFFSET = 0;
  static final int VERSION_OFFSET = MAGIC_OFFSET + Long.BYTES;
  static final int KIND_OFFSET = VERSION_OFFSET + Integer.BYTES;
  static final int BUILD_OFFSET = KIND_OFFSET + Integer.BYTES;
  static final int COUNT_OFFSET = BUILD_OFFSET + Long.BYTES;
  static final int HEADER_BYTES = COUNT_OFFSET + Long.BYTES;

  static final int FOOTER_BYTES = 2 * Long.BYTES + Integer.BYTES + Integer.BYTES;

  /** Small enough that a single value costs little to verify, and a power of two. */
  static final int PIECE_SHIFT = 14;

  static final int PIECE = 1 << PIECE_SHIFT;

  static final int BLOCK = 64;
  static final int BLOCK_SHIFT = 6;
  static final int WIDTH_BITS = 7;

  private ColumnFormat() {}
}
