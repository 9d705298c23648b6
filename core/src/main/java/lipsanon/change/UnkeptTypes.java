package lipsanon.change;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.TreeMap;
import lipsanon.holder.Finding;
import lipsanon.holder.Place;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;
import lipsanon.label.Families;
import lipsanon.label.Labels;
import lipsanon.label.Step;
import lipsanon.label.TypeFilter;

/**
 * The user's own types of which ever more objects are kept by nothing that the snapshots tell: they
 * are in no dominator tree, so that nothing else here sees them pile up.
 */
final class UnkeptTypes {
  private static final int MOST_TYPES = 3;

  private static final String WHY =
      "are kept by nothing that the snapshots tell: garbage that was not collected, or held in a way"
          + " that they leave out";

  private UnkeptTypes() {}

  /**
   * The numbers of a type's unretained objects.
   *
   * @param bytes their own sizes
   */
  record Rising(String type, long[] counts, long[] bytes, Trend trend) {
    /**
     * As a finding, where it is known what keeps them.
     *
     * @param how how they are held, in words
     * @param reason why the snapshots do not show it
     */
    Finding finding(
        int[] actions, String held, String root, String how, String reason, List<Step> steps) {
      long all = Arrays.stream(actions).asLongStream().sum();
      double perAction = all > 0 ? 1.0 / all : 0;
      List<String> reasons = new ArrayList<>();
      reasons.add("it rose steadily over " + counts.length + " snapshots");
      double confidence = 0.6;
      String exactly = "";
      if (trend.exactPerAction() > 0) {
        confidence += 0.17;
        exactly = "exactly " + trend.exactPerAction() + " with every action";
        reasons.add("exactly " + trend.exactPerAction() + " more with every action");
      }
      if (trend.confirmed()) {
        confidence += 0.15;
        reasons.add("it went on in proportion over a much longer round");
      }
      reasons.add(reason);
      String sentence =
          String.format(
              Locale.ROOT,
              "%,d more %s pile up (%s of their own%s), %s.",
              Place.growth(counts),
              type,
              Labels.bytes(Place.growth(bytes)),
              exactly.isEmpty() ? "" : ", " + exactly,
              how);
      return new Finding(
          type,
          held,
          List.of(),
          "",
          "",
          root,
          Place.growth(counts) * perAction,
          Place.growth(bytes) * perAction,
          Arrays.stream(counts).boxed().toList(),
          Arrays.stream(bytes).boxed().toList(),
          confidence,
          reasons,
          sentence,
          steps,
          List.of(),
          0);
    }

    /** As what was looked at and is no finding. */
    GrowthAnswer.SetAside setAside() {
      String what = String.format(Locale.ROOT, "%,d more %s", Place.growth(counts), type);
      return new GrowthAnswer.SetAside(what, "", Arrays.stream(bytes).boxed().toList(), WHY);
    }
  }

  /** What grows most comes first. */
  static List<Rising> of(List<Snapshot> snapshots, TypeFilter mine, int[] actions) {
    Map<String, long[][]> series = new TreeMap<>();
    for (int s = 0; s < snapshots.size(); s++) {
      Snapshot snapshot = snapshots.get(s);
      for (int t = 0; t < snapshot.types().size(); t++) {
        TypeInfo type = snapshot.types().get(t);
        long unretained = snapshot.counts(t).unretained();
        if (unretained > 0 && !type.array() && mine.isMine(type)) {
          long[][] of =
              series.computeIfAbsent(
                  Families.of(type.name()), name -> new long[2][snapshots.size()]);
          of[0][s] += unretained;
          // objects of one type are of one size
          of[1][s] += snapshot.counts(t).shallowBytes() / snapshot.counts(t).count() * unretained;
        }
      }
    }
    List<Rising> rising = new ArrayList<>();
    series.forEach(
        (type, of) -> {
          Trend trend = Trend.of(of[0], actions);
          boolean large =
              Place.growth(of[1]) >= GrowthQuestion.LEAST_BYTES || trend.exactPerAction() > 0;
          if (trend.kind() == Trend.Kind.STEADY && large) {
            rising.add(new Rising(type, of[0], of[1], trend));
          }
        });
    rising.sort(Comparator.comparingLong((Rising one) -> Place.growth(one.bytes())).reversed());
    return rising.subList(0, Math.min(MOST_TYPES, rising.size()));
  }
}
