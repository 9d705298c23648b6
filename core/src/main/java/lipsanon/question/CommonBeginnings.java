package lipsanon.question;

import java.io.IOException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import lipsanon.array.IntList;
import lipsanon.index.ObjectReader;
import lipsanon.index.Snapshot;

/**
 * Finds different texts that begin alike: so many of them that it would pay to keep the beginning
 * once. What would be saved is the beginning of all but one of them.
 */
final class CommonBeginnings {
  /** Characters that are compared. */
  static final int LENGTH = 24;

  /** Of a text that is looked at. */
  static final int LEAST = 2 * LENGTH;

  private static final int FEW = 50;
  private static final int COMMONEST = 6;

  private final Snapshot snapshot;
  private final EqualContents equal = new EqualContents();
  private final IntList nodes = new IntList();
  private final IntList groups = new IntList();
  private final IntList bytes = new IntList();

  CommonBeginnings(Snapshot snapshot) {
    this.snapshot = snapshot;
  }

  /** Adds a text that is there for the first time, or its beginning. */
  void add(int node, String text, int characterBytes, EqualContents.Fingerprint print) {
    if (text.length() < LEAST) {
      return;
    }
    print.clear();
    print.add(text.substring(0, LENGTH));
    int saved = LENGTH * characterBytes;
    nodes.add(node);
    bytes.add(saved);
    groups.add(equal.add(node, print, saved));
  }

  private boolean many(int group) {
    return equal.count(group) >= FEW;
  }

  void share(SavingsPlaces places) throws IOException {
    for (int i = 0; i < nodes.size(); i++) {
      int group = groups.get(i);
      if (many(group) && nodes.get(i) != equal.first(group)) {
        places.add(nodes.get(i), bytes.get(i));
      }
    }
  }

  List<SavingsAnswer.Common> commonest() throws IOException {
    List<Integer> best = new ArrayList<>();
    for (int g = 0; g < equal.size(); g++) {
      if (many(g)) {
        best.add(g);
      }
    }
    best.sort(Comparator.comparingLong((Integer group) -> equal.count(group)).reversed());
    List<SavingsAnswer.Common> common = new ArrayList<>();
    for (int g : best.subList(0, Math.min(COMMONEST, best.size()))) {
      String text = snapshot.objects().text(equal.first(g), LENGTH);
      common.add(
          new SavingsAnswer.Common(
              ObjectReader.quoted(text.substring(0, Math.min(LENGTH, text.length())), LENGTH),
              equal.count(g),
              equal.wasted(g)));
    }
    return common;
  }
}
