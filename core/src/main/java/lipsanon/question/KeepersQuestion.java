package lipsanon.question;

import java.io.IOException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.concurrent.Callable;
import lipsanon.graph.Workers;
import lipsanon.index.Brood;
import lipsanon.index.ChildSums;
import lipsanon.index.PackedColumn;
import lipsanon.index.Snapshot;
import lipsanon.label.ObjectRow;
import lipsanon.label.ObjectRows;
import lipsanon.label.SnapshotSummary;
import lipsanon.label.TypeFilter;

/** Which objects retain most, level by level. */
public final class KeepersQuestion {
  /** From so many children on they are grouped by type as well. */
  private static final int MANY = 12;

  private static final int MANY_BLOCKS = 20_000;

  private KeepersQuestion() {}

  /**
   * Answers for the objects that one object dominates immediately.
   *
   * @param under the object, or -1 for the super-root
   * @param limit rows at most
   */
  public static KeepersAnswer ask(Snapshot snapshot, int under, TypeFilter filter, int limit)
      throws IOException {
    Brood children = children(snapshot, under, filter, limit);
    ObjectRows rows = new ObjectRows(snapshot);
    List<ObjectRow> keepers = new ArrayList<>();
    for (int node : children.largest().subList(0, Math.min(limit, children.largest().size()))) {
      keepers.add(rows.row(node));
    }
    return new KeepersAnswer(
        SnapshotSummary.of(snapshot),
        under < 0 ? null : rows.row(under),
        keepers,
        children.count() >= MANY ? groups(snapshot, children, rows, limit) : List.of(),
        children.count(),
        children.bytes());
  }

  /** The children of an object: as the index has them, or else added up. */
  private static Brood children(Snapshot snapshot, int under, TypeFilter filter, int limit) {
    Brood known = under < 0 || !filter.equals(TypeFilter.ALL) ? null : snapshot.brood(under);
    if (known != null && limit <= known.largest().size()) {
      return known;
    }
    boolean[] accepted = new boolean[snapshot.types().size()];
    for (int t = 0; t < accepted.length; t++) {
      accepted[t] = filter.accepts(snapshot.types().get(t));
    }
    return new Level(snapshot, accepted, under, limit).scan();
  }

  /** Of the objects of a type that one object dominates immediately, that which retains most. */
  static int largest(Snapshot snapshot, int under, int type) {
    Brood known = snapshot.brood(under);
    if (known == null) {
      boolean[] accepted = new boolean[snapshot.types().size()];
      accepted[type] = true;
      known = new Level(snapshot, accepted, under, 1).scan();
    }
    for (Brood.OfType row : known.types()) {
      if (row.type() == type) {
        return row.example();
      }
    }
    return -1;
  }

  private static List<KeepersAnswer.GroupRow> groups(
      Snapshot snapshot, Brood children, ObjectRows rows, int limit) {
    List<KeepersAnswer.GroupRow> groups = new ArrayList<>();
    for (Brood.OfType row : children.types()) {
      groups.add(
          new KeepersAnswer.GroupRow(
              snapshot.types().get(row.type()).name(),
              rows.loader(row.type()),
              row.count(),
              row.shallowBytes(),
              row.retainedBytes(),
              rows.share(row.retainedBytes()),
              snapshot.id(row.example())));
    }
    groups.sort(Comparator.comparingLong(KeepersAnswer.GroupRow::retainedBytes).reversed());
    return List.copyOf(groups.subList(0, Math.min(limit, groups.size())));
  }

  /** A search for the children of an object, or for the objects at the top. */
  private record Level(Snapshot snapshot, boolean[] accepted, int under, int limit) {
    Brood scan() {
      return (under < 0 ? top() : below()).brood(snapshot.unitBytes());
    }

    private ChildSums sums() {
      return new ChildSums(under, accepted.length, limit);
    }

    private ChildSums top() {
      ChildSums sums = sums();
      PackedColumn top = snapshot.topColumn();
      PackedColumn shallow = snapshot.shallowColumn();
      PackedColumn retained = snapshot.retainedColumn();
      for (long i = 0; i < top.count(); i++) {
        int node = top.getInt(i);
        if (accepted[snapshot.type(node)]) {
          sums.add(node, snapshot.type(node), shallow.get(node), retained.get(node));
        }
      }
      return sums;
    }

    /** Goes through all objects, in ranges side by side where there are many. */
    private ChildSums below() {
      long blocks = snapshot.dominatorColumn().count() + 63 >> 6;
      int parts = blocks < MANY_BLOCKS ? 1 : Workers.threads();
      List<ChildSums> sums = new ArrayList<>();
      List<Callable<Void>> works = new ArrayList<>();
      for (int k = 0; k < parts; k++) {
        ChildSums part = sums();
        long from = blocks * k / parts;
        long to = blocks * (k + 1) / parts;
        sums.add(part);
        works.add(
            () -> {
              scan(from, to, part);
              return null;
            });
      }
      try {
        Workers.all(works);
      } catch (RuntimeException e) {
        throw e;
      } catch (Exception e) {
        throw new IllegalStateException(e);
      }
      sums.subList(1, parts).forEach(sums.get(0)::addAll);
      return sums.get(0);
    }

    private void scan(long firstBlock, long endBlock, ChildSums sums) {
      PackedColumn dominators = snapshot.dominatorColumn();
      long[] block = new long[64];
      long[] types = new long[64];
      long[] retained = new long[64];
      long[] shallow = new long[64];
      for (long b = firstBlock; b < endBlock; b++) {
        int base = (int) (b << 6);
        if (dominators.bound(b) < base - under || dominators.least(b) > base + 63 - under) {
          continue;
        }
        int size = dominators.block(b, block);
        boolean read = false;
        for (int i = 0; i < size; i++) {
          // what an object dominates is retained, like itself
          if (block[i] != 0 && base + i - block[i] == under) {
            if (!read) {
              snapshot.typeColumn().block(b, types);
              snapshot.retainedColumn().block(b, retained);
              snapshot.shallowColumn().block(b, shallow);
              read = true;
            }
            if (accepted[(int) types[i]]) {
              sums.add(base + i, (int) types[i], shallow[i], retained[i]);
            }
          }
        }
      }
    }
  }
}
