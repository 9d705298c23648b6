package lipsanon.question;

import java.io.IOException;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.Comparator;
import java.util.List;
import lipsanon.array.IntList;
import lipsanon.index.Snapshot;

/**
 * Objects with their contents: which are there several times, and what all but one of each take.
 * Where there are many, several threads each take the fingerprints that are theirs by a part of
 * their bits.
 */
final class EqualObjects {
  private static final int COMMONEST = 6;

  private final List<Part> parts;

  /** What one thread has found. */
  private record Part(EqualContents equal, SavingsPlaces places, BitSet fresh) {}

  private record Group(EqualContents equal, int number) {
    long wasted() {
      return equal.wasted(number);
    }
  }

  private EqualObjects(List<Part> parts) {
    this.parts = parts;
  }

  /** Says what contents are, by an object that has them. */
  interface Said {
    String of(int node) throws IOException;
  }

  /** Groups objects; each counts what it retains. */
  static EqualObjects of(Snapshot snapshot, List<Prints> prints) throws IOException {
    int count = prints.stream().mapToInt(Prints::size).sum();
    int parts = SideBySide.parts(count);
    return new EqualObjects(
        SideBySide.run(
            snapshot,
            parts,
            (objects, part) -> {
              Part result =
                  new Part(new EqualContents(), new SavingsPlaces(snapshot, objects), new BitSet());
              group(prints, part, parts, result);
              return result;
            }));
  }

  private static void group(List<Prints> prints, int part, int parts, Part result)
      throws IOException {
    EqualContents equal = result.equal();
    IntList groups = new IntList();
    int first = 0;
    for (Prints some : prints) {
      for (int i = 0; i < some.size(); i++) {
        if (part(some, i, parts) == part) {
          int known = equal.size();
          groups.add(equal.add(some.node(i), some.one(i), some.other(i), some.bytes(i)));
          if (equal.size() > known) {
            result.fresh().set(first + i);
          }
        }
      }
      first += some.size();
    }
    int at = 0;
    for (Prints some : prints) {
      for (int i = 0; i < some.size(); i++) {
        if (part(some, i, parts) == part) {
          int group = groups.get(at++);
          if (equal.count(group) > 1 && some.node(i) != equal.kept(group)) {
            result.places().add(some.node(i), some.bytes(i));
          }
        }
      }
    }
  }

  private static int part(Prints prints, int index, int parts) {
    return parts == 1 ? 0 : (int) (prints.other(index) >>> 48) % parts;
  }

  /** Whether the object of a print, by its number among all, is the first with its contents. */
  boolean fresh(int index) {
    for (Part part : parts) {
      if (part.fresh().get(index)) {
        return true;
      }
    }
    return false;
  }

  /** Each object is charged with what it takes, but for the largest of each group, which stays. */
  SavingsPlaces places() {
    return SavingsPlaces.of(parts.stream().map(Part::places).toList());
  }

  /** The contents with most waste. */
  List<SavingsAnswer.Common> commonest(Said said) throws IOException {
    Comparator<Group> most = Comparator.comparingLong(Group::wasted).reversed();
    List<Group> best = new ArrayList<>();
    for (Part part : parts) {
      long least = 0;
      for (int g = 0; g < part.equal().size(); g++) {
        if (part.equal().count(g) > 1 && part.equal().wasted(g) > least) {
          best.add(new Group(part.equal(), g));
          if (best.size() > 16 * COMMONEST) {
            best.sort(most);
            best.subList(COMMONEST, best.size()).clear();
            least = best.get(COMMONEST - 1).wasted();
          }
        }
      }
    }
    best.sort(most);
    List<SavingsAnswer.Common> common = new ArrayList<>();
    for (Group group : best.subList(0, Math.min(COMMONEST, best.size()))) {
      EqualContents equal = group.equal();
      common.add(
          new SavingsAnswer.Common(
              said.of(equal.kept(group.number())), equal.count(group.number()), group.wasted()));
    }
    return common;
  }
}
