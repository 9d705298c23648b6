package lipsanon.change;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Set;
import java.util.TreeSet;
import lipsanon.label.SnapshotSummary;
import lipsanon.label.TypeFilter;

/**
 * What changed between two tables of types.
 *
 * @param before the earlier
 * @param after the later
 * @param types by type, the most growth first
 * @param changedTypes how many types changed at all
 */
public record TypesDiff(
    SnapshotSummary before, SnapshotSummary after, List<Change> types, int changedTypes) {
  /**
   * A type in both.
   *
   * @param type its name
   * @param status {@code new}, {@code gone} or {@code kept}
   */
  public record Change(
      String type,
      String status,
      long countBefore,
      long countAfter,
      long countDifference,
      long shallowBytesBefore,
      long shallowBytesAfter,
      long shallowBytesDifference) {}

  private static final TypeTable.Row NONE = new TypeTable.Row(0, 0, false);

  /** Compares; sorts by count or, for all else, by bytes. */
  public static TypesDiff of(
      TypeTable before, TypeTable after, TypeFilter filter, boolean byCount, int limit) {
    Set<String> names = new TreeSet<>(before.types().keySet());
    names.addAll(after.types().keySet());
    List<Change> changes = new ArrayList<>();
    for (String name : names) {
      TypeTable.Row a = before.types().getOrDefault(name, NONE);
      TypeTable.Row b = after.types().getOrDefault(name, NONE);
      boolean same = a.count() == b.count() && a.shallowBytes() == b.shallowBytes();
      boolean wanted = filter.fits(name) && (!filter.onlyMine() || a.mine() || b.mine());
      if (!same && wanted) {
        changes.add(
            new Change(
                name,
                a.count() == 0 ? "new" : b.count() == 0 ? "gone" : "kept",
                a.count(),
                b.count(),
                b.count() - a.count(),
                a.shallowBytes(),
                b.shallowBytes(),
                b.shallowBytes() - a.shallowBytes()));
      }
    }
    changes.sort(
        Comparator.comparingLong(
                (Change row) -> byCount ? row.countDifference() : row.shallowBytesDifference())
            .reversed());
    return new TypesDiff(
        before.summary(),
        after.summary(),
        List.copyOf(changes.subList(0, Math.min(limit, changes.size()))),
        changes.size());
  }
}
