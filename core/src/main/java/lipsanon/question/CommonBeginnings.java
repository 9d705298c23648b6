package lipsanon.question;

import java.io.IOException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.function.IntPredicate;
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

  /**
   * Takes in what a pass over a part of the texts found.
   *
   * @param wanted which of all texts, by number, are looked at
   * @param first the number of the part's first text
   */
  void add(Found found, IntPredicate wanted, int first) {
    for (int i = 0; i < found.prints.size(); i++) {
      if (wanted.test(first + found.index.get(i))) {
        int node = found.prints.node(i);
        int saved = (int) found.prints.bytes(i);
        nodes.add(node);
        bytes.add(saved);
        groups.add(equal.add(node, found.prints.one(i), found.prints.other(i), saved));
      }
    }
  }

  /** Beginnings of texts, in their order. */
  static final class Found {
    private final Prints prints = new Prints();
    private final IntList index = new IntList();

    /** Adds one, with its number among the part's texts. */
    void add(int number, int node, EqualContents.Fingerprint beginning, int characterBytes) {
      prints.add(node, beginning, LENGTH * characterBytes);
      index.add(number);
    }
  }

  private boolean many(int group) {
    return equal.count(group) >= FEW;
  }

  SavingsPlaces share() throws IOException {
    SavingsPlaces places = new SavingsPlaces(snapshot);
    for (int i = 0; i < nodes.size(); i++) {
      int group = groups.get(i);
      if (many(group) && nodes.get(i) != equal.kept(group)) {
        places.add(nodes.get(i), bytes.get(i));
      }
    }
    return places;
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
      String text = snapshot.objects().text(equal.kept(g), LENGTH);
      common.add(
          new SavingsAnswer.Common(
              ObjectReader.quoted(text.substring(0, Math.min(LENGTH, text.length())), LENGTH),
              equal.count(g),
              equal.wasted(g)));
    }
    return common;
  }
}
