package lipsanon.question;

import java.io.IOException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import lipsanon.array.IntList;
import lipsanon.index.Snapshot;

/**
 * Objects with their contents: which are there several times, and what all but one of each take.
 */
final class EqualObjects {
  private static final int COMMONEST = 6;

  private final Snapshot snapshot;
  private final EqualContents equal = new EqualContents();
  private final IntList nodes = new IntList();
  private final IntList groups = new IntList();

  EqualObjects(Snapshot snapshot) {
    this.snapshot = snapshot;
  }

  /** Says what contents are, by an object that has them. */
  interface Said {
    String of(int node) throws IOException;
  }

  /** Adds an object; whether its contents are the first of their kind. */
  boolean add(int node, EqualContents.Fingerprint contents) {
    return add(node, contents, snapshot.retainedBytes(node));
  }

  boolean add(int node, EqualContents.Fingerprint contents, long bytes) {
    int before = equal.size();
    nodes.add(node);
    groups.add(equal.add(node, contents, bytes));
    return equal.size() > before;
  }

  /** Charges each object of a group that is not its first with what it takes. */
  void share(SavingsPlaces places) throws IOException {
    long[] left = new long[equal.size()];
    for (int g = 0; g < left.length; g++) {
      left[g] = equal.wasted(g);
    }
    for (int i = 0; i < nodes.size(); i++) {
      int group = groups.get(i);
      int node = nodes.get(i);
      if (equal.count(group) > 1 && node != equal.first(group)) {
        long bytes = Math.min(left[group], snapshot.retainedBytes(node));
        left[group] -= bytes;
        places.add(node, bytes);
      }
    }
    // where the first one was the smallest, the rest of the sum
    for (int g = 0; g < left.length; g++) {
      if (left[g] > 0) {
        places.addBytes(equal.first(g), left[g]);
      }
    }
  }

  /** The contents with most waste. */
  List<SavingsAnswer.Common> commonest(Said said) throws IOException {
    Comparator<Integer> most =
        Comparator.comparingLong((Integer group) -> equal.wasted(group)).reversed();
    List<Integer> best = new ArrayList<>();
    for (int g = 0; g < equal.size(); g++) {
      if (equal.count(g) > 1) {
        best.add(g);
        if (best.size() > 16 * COMMONEST) {
          best.sort(most);
          best.subList(COMMONEST, best.size()).clear();
        }
      }
    }
    best.sort(most);
    List<SavingsAnswer.Common> common = new ArrayList<>();
    for (int g : best.subList(0, Math.min(COMMONEST, best.size()))) {
      common.add(
          new SavingsAnswer.Common(said.of(equal.first(g)), equal.count(g), equal.wasted(g)));
    }
    return common;
  }
}
