package lipsanon.question;

import lipsanon.index.PackedColumn;
import lipsanon.index.Snapshot;

/** Finds the object that takes most by itself. */
final class LargestObject {
  private static final int BLOCK = TypedNodes.BLOCK;

  private LargestObject() {}

  /**
   * The largest object that is kept and takes more than so much.
   *
   * @return its number, or -1; found from the bounds of blocks, without a look at each object
   */
  static int find(Snapshot snapshot, long moreThan) {
    PackedColumn column = snapshot.shallowColumn();
    long[] values = new long[BLOCK];
    int unit = snapshot.unitBytes();
    int largest = -1;
    long bytes = moreThan;
    long blocks = (column.count() + BLOCK - 1) / BLOCK;
    for (long block = 0; block < blocks; block++) {
      if (column.bound(block) <= bytes / unit) {
        continue;
      }
      int count = column.block(block, values);
      for (int i = 0; i < count; i++) {
        int node = (int) (block * BLOCK) + i;
        if (values[i] * unit > bytes && snapshot.depth(node) > 0) {
          bytes = values[i] * unit;
          largest = node;
        }
      }
    }
    return largest;
  }
}
