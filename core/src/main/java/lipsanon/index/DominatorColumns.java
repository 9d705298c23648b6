package lipsanon.index;

import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import lipsanon.array.IntArray;
import lipsanon.array.IntList;
import lipsanon.array.LongArray;
import lipsanon.graph.Dominators;

/**
 * Writes the columns that need dominators, what each object is dominated by and what it retains, in
 * one go through all objects; what large objects hold is counted on the way.
 */
final class DominatorColumns {
  /** So many values are handed over at once. */
  private static final int CHUNK = 1 << 13;

  private final SnapshotContent content;
  private final Dominators dominators;
  private final LongArray innerRetained;
  private final LargeHolders holders;

  /** Objects that only the super-root dominates. */
  private final IntList top = new IntList();

  private final int[] above = new int[CHUNK];
  private final long[] retained = new long[CHUNK];

  private DominatorColumns(
      SnapshotContent content, Dominators dominators, LongArray innerRetained) {
    this.content = content;
    this.dominators = dominators;
    this.innerRetained = innerRetained;
    this.holders = LargeHolders.of(dominators, innerRetained, content.types().size());
  }

  /**
   * What large objects hold.
   *
   * @param piles those that retain most
   * @param broods the children of objects that have very many
   */
  record Large(List<Pile> piles, List<Brood> broods) {}

  /**
   * Writes.
   *
   * @param columns those of the same index
   * @param topFile where objects that only the super-root dominates go
   */
  static Large write(
      SnapshotContent content,
      Dominators dominators,
      LongArray innerRetained,
      KnownColumns columns,
      Path topFile,
      long build)
      throws IOException {
    DominatorColumns writer = new DominatorColumns(content, dominators, innerRetained);
    try (PackedWriter dominator = columns.column(IndexFiles.DOMINATOR);
        PackedWriter retained = columns.column(IndexFiles.RETAINED)) {
      writer.write(dominator, retained);
      dominator.finish();
      retained.finish();
    }
    writer.writeTop(topFile, build);
    int unit = content.unitBytes();
    IntArray type = content.graph().type;
    return new Large(
        writer.holders.largestPiles(unit),
        writer.holders.broods(dominators, innerRetained, type, content.shallow(), unit));
  }

  private void write(PackedWriter dominatorOut, PackedWriter retainedOut) throws IOException {
    int count = content.graph().count;
    for (int from = 0, size; from < count; from += size) {
      size = Math.min(CHUNK, count - from);
      dominators.answers(from, size, innerRetained, content.shallow(), above, retained);
      turnToDistances(from, size);
      dominatorOut.addInts(above, size);
      retainedOut.addLongs(retained, size);
    }
  }

  /** A dominator is written as how far before its object it stands; 0 where there is none. */
  private void turnToDistances(int from, int size) {
    final int[] above = this.above;
    final LargeHolders holders = this.holders;
    for (int i = 0; i < size; i++) {
      int n = from + i;
      int holder = above[i];
      if (holder < 0) {
        above[i] = 0;
        if (dominators.isRetained(n)) {
          top.add(n);
        }
      } else {
        above[i] = n - holder;
        if (holders.isLarge(holder)) {
          long own = Integer.toUnsignedLong(content.shallow().get(n));
          holders.add(holder, n, content.graph().type.get(n), own, retained[i]);
        }
      }
    }
  }

  private void writeTop(Path file, long build) throws IOException {
    try (PackedWriter out = new PackedWriter(file, build, top.size())) {
      for (int i = 0; i < top.size(); i++) {
        out.add(top.get(i));
      }
      out.finish();
    }
  }
}
