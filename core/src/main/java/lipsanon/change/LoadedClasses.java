package lipsanon.change;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import lipsanon.holder.Finding;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;
import lipsanon.label.Families;
import lipsanon.label.Loaders;
import lipsanon.label.TypeFilter;

/**
 * Classes of the user's that are made ever more while the program runs, and that nothing in the
 * dumps keeps: hidden ones are in no list of their class loader, though most stay as long as it
 * does. So they are in no dominator tree, and told by their number.
 */
final class LoadedClasses {
  private static final int MOST_FINDINGS = 2;

  private LoadedClasses() {}

  /** What is known of a family of classes. */
  private static final class Family {
    final long[] counts;
    final long[] bytes;
    String loader = "";

    Family(int snapshots) {
      counts = new long[snapshots];
      bytes = new long[snapshots];
    }
  }

  /** Findings, what grows most first. */
  static List<Finding> of(List<Snapshot> snapshots, TypeFilter mine, int[] actions) {
    Map<String, Family> families = new TreeMap<>();
    for (int s = 0; s < snapshots.size(); s++) {
      Snapshot snapshot = snapshots.get(s);
      for (TypeInfo type : snapshot.types()) {
        int node = type.classNode();
        if (node >= 0 && snapshot.depth(node) == 0 && !type.array() && mine.isMine(type)) {
          String name = Families.stem(Families.of(type.name()));
          Family family = families.computeIfAbsent(name, n -> new Family(snapshots.size()));
          family.counts[s]++;
          family.bytes[s] += snapshot.shallowBytes(node);
          family.loader = type.loader();
        }
      }
    }
    Snapshot last = snapshots.get(snapshots.size() - 1);
    List<Finding> findings = new ArrayList<>();
    families.forEach(
        (name, family) -> {
          Trend trend = Trend.of(family.counts, actions);
          if (trend.kind() == Trend.Kind.STEADY && trend.exactPerAction() > 0) {
            findings.add(finding(last, name, family, trend, actions));
          }
        });
    findings.sort(Comparator.comparingLong(RelatedFindings::grownBytes).reversed());
    return findings.subList(0, Math.min(MOST_FINDINGS, findings.size()));
  }

  private static Finding finding(
      Snapshot last, String name, Family family, Trend trend, int[] actions) {
    int loader = family.loader.isEmpty() ? -1 : last.nodeOf(family.loader);
    String held = loader < 0 ? "the VM" : Loaders.named(last, loader);
    UnkeptTypes.Rising rising =
        new UnkeptTypes.Rising("class " + name + "…", family.counts, family.bytes, trend);
    String reason =
        "the VM keeps them as long as their loader, which dumps do not show: sizes are of the class"
            + " objects alone";
    String how = "held by " + held;
    return rising.finding(actions, held, "the VM", how, reason, List.of());
  }
}
