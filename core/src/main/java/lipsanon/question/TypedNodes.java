package lipsanon.question;

import java.io.IOException;
import java.util.function.IntPredicate;
import lipsanon.index.PackedColumn;
import lipsanon.index.Snapshot;

/** The retained objects of some types. */
public final class TypedNodes {
  /** Parts of the objects begin at multiples of it. */
  static final int BLOCK = 64;

  private final Snapshot snapshot;
  private final boolean[] wanted;
  private final long count;

  /**
   * Nothing is gone through yet.
   *
   * @param which by a type's number, whether its objects are meant
   */
  public TypedNodes(Snapshot snapshot, IntPredicate which) {
    this.snapshot = snapshot;
    this.wanted = new boolean[snapshot.types().size()];
    long all = 0;
    for (int t = 0; t < wanted.length; t++) {
      long of = snapshot.counts(t).count();
      wanted[t] = of > 0 && which.test(t);
      all += wanted[t] ? of : 0;
    }
    this.count = all;
  }

  /** Looks at an object. */
  public interface Look {
    void at(int node) throws IOException;
  }

  /** How many there are, those that nothing keeps included. */
  long count() {
    return count;
  }

  /**
   * Goes through them in order.
   *
   * @param from a multiple of 64
   * @param to the object after the last one
   */
  public void each(int from, int to, Look look) throws IOException {
    if (count == 0) {
      return;
    }
    PackedColumn types = snapshot.typeColumn();
    PackedColumn depths = snapshot.depthColumn();
    long[] type = new long[BLOCK];
    long[] depth = new long[BLOCK];
    for (int start = from; start < to; start += BLOCK) {
      int size = Math.min(types.block(start / BLOCK, type), to - start);
      boolean read = false;
      for (int i = 0; i < size; i++) {
        if (wanted[(int) type[i]]) {
          if (!read) {
            depths.block(start / BLOCK, depth);
            read = true;
          }
          if (depth[i] > 0) {
            look.at(start + i);
          }
        }
      }
    }
  }
}
