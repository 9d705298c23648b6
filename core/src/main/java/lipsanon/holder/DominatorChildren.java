package lipsanon.holder;

import java.util.function.IntConsumer;
import lipsanon.array.IntList;
import lipsanon.index.PackedColumn;
import lipsanon.index.Snapshot;

/**
 * The dominator tree of a snapshot downwards: for each object the objects that it dominates
 * immediately. A counting sort over the dominators' column; 8 bytes an object.
 */
public final class DominatorChildren {
  /** By object: where its children end; they begin where those of the object before end. */
  private final int[] end;

  private final int[] children;
  private final IntList top = new IntList();

  DominatorChildren(Snapshot snapshot) {
    int count = snapshot.objectCount();
    PackedColumn column = snapshot.dominatorColumn();
    int[] place = new int[count + 1];
    int nested = 0;
    long[] block = new long[64];
    long blocks = column.count() + 63 >> 6;
    for (long b = 0; b < blocks; b++) {
      int size = column.block(b, block);
      for (int i = 0; i < size; i++) {
        int node = (int) (b << 6) + i;
        if (block[i] != 0) {
          place[(int) (node - block[i]) + 1]++;
          nested++;
        } else if (snapshot.depth(node) != 0) {
          top.add(node);
        }
      }
    }
    for (int n = 1; n <= count; n++) {
      place[n] += place[n - 1];
    }
    children = new int[nested];
    for (long b = 0; b < blocks; b++) {
      int size = column.block(b, block);
      for (int i = 0; i < size; i++) {
        int node = (int) (b << 6) + i;
        if (block[i] != 0) {
          children[place[(int) (node - block[i])]++] = node;
        }
      }
    }
    end = place;
  }

  /** Objects that the super-root dominates immediately. */
  public IntList top() {
    return top;
  }

  public int count(int node) {
    return end[node] - (node == 0 ? 0 : end[node - 1]);
  }

  public void forEach(int node, IntConsumer sink) {
    for (int i = node == 0 ? 0 : end[node - 1]; i < end[node]; i++) {
      sink.accept(children[i]);
    }
  }

  public int child(int node, int index) {
    return children[(node == 0 ? 0 : end[node - 1]) + index];
  }
}
