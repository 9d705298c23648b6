package lipsanon.format.hprof;

import java.util.Arrays;

/**
 * Finds the VM's object layout from the distances between neighbouring objects. An object can't be
 * larger than the distance to the next one, and in a compacted heap most are just as large. So of
 * all layouts that a VM can have, the true one contradicts no distance and meets the smallest
 * distances seen between short arrays of each kind and their neighbours.
 */
final class LayoutFinder {
  private static final int LONGEST = 256;
  private static final int[][] HEADERS = {{12, 16}, {8, 12}, {16, 20}, {16, 24}};

  private final int idSize;

  /** By element type and length: the smallest distance seen. */
  private final long[][] smallest = new long[HprofFormat.LONG + 1][LONGEST];

  LayoutFinder(int idSize) {
    this.idSize = idSize;
    for (long[] row : smallest) {
      Arrays.fill(row, Long.MAX_VALUE);
    }
  }

  /** Notes the distance from an array to the next object. */
  void array(int elementType, int length, long distance) {
    if (length < LONGEST) {
      long[] row = smallest[elementType];
      row[length] = Math.min(row[length], distance);
    }
  }

  /** Adds what another noted. */
  void join(LayoutFinder other) {
    for (int type = 0; type < smallest.length; type++) {
      for (int length = 0; length < LONGEST; length++) {
        smallest[type][length] = Math.min(smallest[type][length], other.smallest[type][length]);
      }
    }
  }

  /** The layout that explains most; that of a default VM where nothing speaks against it. */
  VmLayout find() {
    VmLayout best = null;
    long bestScore = Long.MIN_VALUE;
    int[] references = idSize == 4 ? new int[] {4} : new int[] {4, 8};
    for (int[] header : HEADERS) {
      for (int reference : references) {
        for (int alignment = 8; alignment <= 256; alignment *= 2) {
          VmLayout layout = new VmLayout(header[0], header[1], reference, alignment);
          long score = score(layout);
          if (score > bestScore) {
            best = layout;
            bestScore = score;
          }
        }
      }
    }
    return best;
  }

  private long score(VmLayout layout) {
    long met = 0;
    long contradicted = 0;
    for (int type = HprofFormat.OBJECT; type <= HprofFormat.LONG; type++) {
      for (int length = 0; length < LONGEST; length++) {
        long distance = smallest[type][length];
        if (distance != Long.MAX_VALUE) {
          long bytes = layout.arrayBytes(type, length);
          met += bytes == distance ? 1 : 0;
          contradicted += bytes > distance ? 1 : 0;
        }
      }
    }
    return met - 1000 * contradicted;
  }
}
