package lipsanon.change;

import java.io.IOException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import lipsanon.array.IntList;
import lipsanon.holder.HolderSearch;
import lipsanon.holder.Holding;
import lipsanon.index.Snapshot;
import lipsanon.label.Ownership;
import lipsanon.label.TypeFilter;

/** Elements that were taken out of their page and are kept all the same, by tag and class. */
final class DetachedElements {
  private static final int MOST = 8;

  private DetachedElements() {}

  static List<Series> of(List<Snapshot> snapshots, TypeFilter mine) throws IOException {
    Map<String, long[]> counts = new HashMap<>();
    Map<String, Integer> examples = new HashMap<>();
    for (int s = 0; s < snapshots.size(); s++) {
      IntList detached = snapshots.get(s).objects().detached();
      for (int i = 0; i < detached.size(); i++) {
        String kind = kind(snapshots.get(s), detached.get(i));
        counts.computeIfAbsent(kind, key -> new long[snapshots.size()])[s]++;
        if (s == snapshots.size() - 1) {
          examples.put(kind, detached.get(i));
        }
      }
    }
    Snapshot last = snapshots.get(snapshots.size() - 1);
    HolderSearch search = new HolderSearch(last, new Ownership(last, mine));
    List<Series> rows = new ArrayList<>();
    for (Map.Entry<String, Integer> example : examples.entrySet()) {
      long[] series = counts.get(example.getKey());
      Holding holding = search.searchOne(example.getValue());
      rows.add(
          new Series(
              example.getKey(),
              last.id(example.getValue()),
              holding.text(),
              java.util.Arrays.stream(series).boxed().toList()));
    }
    rows.sort(
        Comparator.comparingLong(Series::growth)
            .thenComparing(row -> row.counts().get(row.counts().size() - 1))
            .reversed());
    return List.copyOf(rows.subList(0, Math.min(MOST, rows.size())));
  }

  /** Tag and class; what tells single elements apart is left out. */
  private static String kind(Snapshot snapshot, int node) throws IOException {
    String label = snapshot.objects().label(node, 200).replaceAll(",? ?detached$", "");
    String type = snapshot.typeName(node);
    String plain = label.replaceAll("id=\"[^\"]*\" ?", "").strip();
    return plain.isEmpty() || !type.endsWith(">")
        ? type
        : type.substring(0, type.length() - 1) + " " + plain + ">";
  }
}
