package lipsanon.question;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeCounts;
import lipsanon.index.TypeInfo;
import lipsanon.label.SnapshotSummary;
import lipsanon.label.TypeFilter;
import lipsanon.select.Selections;

/** How many of what, how large, and how much do they retain. */
public final class TypesQuestion {
  private TypesQuestion() {}

  /** Columns to sort by, largest first but for the name. */
  public enum Sort {
    /** By retained size. */
    RETAINED,
    /** By shallow size. */
    SHALLOW,
    /** By count. */
    COUNT,
    /** By name. */
    NAME
  }

  /**
   * Answers.
   *
   * @param limit rows at most
   */
  public static TypesAnswer ask(Snapshot snapshot, TypeFilter filter, Sort sort, int limit) {
    Map<String, Integer> sameName = new HashMap<>();
    snapshot.types().forEach(type -> sameName.merge(type.name(), 1, Integer::sum));
    List<TypeRow> rows = new ArrayList<>();
    long count = 0;
    long shallow = 0;
    double heap = Math.max(1, snapshot.totals().retainedBytes());
    // the same name stands for the same types in every question
    Set<Integer> named =
        filter.match() == null ? null : new HashSet<>(Selections.types(snapshot, filter.match()));
    for (int t = 0; t < snapshot.types().size(); t++) {
      TypeInfo type = snapshot.types().get(t);
      TypeCounts sums = snapshot.counts(t);
      boolean wanted = named == null || named.contains(t);
      if (sums.count() == 0 || !wanted || filter.onlyMine() && !filter.isMine(type)) {
        continue;
      }
      count += sums.count();
      shallow += sums.shallowBytes();
      rows.add(
          new TypeRow(
              type.name(),
              sameName.get(type.name()) > 1 ? type.loader() : "",
              filter.isMine(type),
              sums.count(),
              sums.shallowBytes(),
              sums.retainedBytes(),
              true,
              sums.retainedBytes() / heap));
    }
    rows.sort(order(sort));
    return new TypesAnswer(
        SnapshotSummary.of(snapshot),
        List.copyOf(rows.subList(0, Math.min(limit, rows.size()))),
        rows.size(),
        count,
        shallow,
        sort.name().toLowerCase(Locale.ROOT));
  }

  private static Comparator<TypeRow> order(Sort sort) {
    Comparator<TypeRow> byName = Comparator.comparing(TypeRow::type);
    return switch (sort) {
      case RETAINED -> Comparator.comparingLong(TypeRow::retainedBytes).reversed();
      case SHALLOW -> Comparator.comparingLong(TypeRow::shallowBytes).reversed();
      case COUNT -> Comparator.comparingLong(TypeRow::count).reversed();
      case NAME -> byName;
    };
  }
}
