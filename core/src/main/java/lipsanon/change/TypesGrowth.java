package lipsanon.change;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import lipsanon.holder.Finding;
import lipsanon.label.Families;

/**
 * What grows over a series of which not all snapshots know references: types alone. Own types come
 * first; what the runtime's types grow by is nearly always what those consist of.
 */
public final class TypesGrowth {
  private static final int MOST_FINDINGS = 5;
  private static final int MOST_ASIDE = 8;

  /** Less than this in all is too small to be told from chance. */
  private static final long LEAST_BYTES = 10_000;

  /** Of the user's own types so many more objects are worth telling, however small. */
  private static final long LEAST_OWN = 10;

  /** Of all that grew, a finding must have at least so much. */
  private static final double LEAST_SHARE = 0.005;

  private final List<TypeTable> tables;
  private final int[] actions;

  private TypesGrowth(List<TypeTable> tables, int[] actions) {
    this.tables = tables;
    this.actions = actions;
  }

  /** A type's series. */
  private record Row(String type, boolean mine, long[] counts, long[] bytes) {
    long grown() {
      return bytes[bytes.length - 1] - bytes[0];
    }
  }

  /**
   * Answers for two or more tables in time order.
   *
   * @param actions how often the action was done in each interval; zeros if that is not known
   */
  public static GrowthAnswer ask(List<TypeTable> tables, int[] actions) {
    return new TypesGrowth(tables, actions).answer();
  }

  private List<Row> rows() {
    Map<String, Row> rows = new TreeMap<>();
    for (int i = 0; i < tables.size(); i++) {
      int at = i;
      tables
          .get(i)
          .types()
          .forEach(
              (type, row) -> {
                String family = Families.of(type);
                Row sum =
                    rows.computeIfAbsent(
                        family,
                        key ->
                            new Row(
                                key, row.mine(), new long[tables.size()], new long[tables.size()]));
                sum.counts()[at] += row.count();
                sum.bytes()[at] += row.shallowBytes();
              });
    }
    List<Row> all = new ArrayList<>(rows.values());
    all.sort(
        Comparator.comparing((Row row) -> !row.mine())
            .thenComparing(Comparator.comparingLong(Row::grown).reversed()));
    return all;
  }

  private GrowthAnswer answer() {
    long[] heap = tables.stream().mapToLong(TypeTable::bytes).toArray();
    List<Row> rows = rows();
    long rising = rows.stream().mapToLong(row -> Math.max(0, row.grown())).sum();
    long least = Math.max(LEAST_BYTES, (long) (rising * LEAST_SHARE));
    List<Finding> findings = new ArrayList<>();
    List<GrowthAnswer.SetAside> aside = new ArrayList<>();
    for (Row row : rows) {
      Trend trend = Trend.of(row.counts(), actions);
      // what is the user's own may be small, and hold what is large
      long more = row.counts()[row.counts().length - 1] - row.counts()[0];
      boolean owned = row.mine() && (trend.exactPerAction() > 0 || more >= LEAST_OWN);
      if (row.grown() < least && !owned || row.grown() <= 0) {
        continue;
      }
      if (row.type().endsWith("[]") && trend.kind() == Trend.Kind.NONE) {
        // no more arrays, but larger ones
        trend = Trend.of(row.bytes(), actions);
      }
      String why = whyNot(row, trend, !findings.isEmpty());
      if (why.isEmpty() && findings.size() < MOST_FINDINGS) {
        findings.add(finding(row, trend));
      } else if (!why.isEmpty() && aside.size() < MOST_ASIDE) {
        List<Long> bytes = Arrays.stream(row.bytes()).boxed().toList();
        aside.add(new GrowthAnswer.SetAside(row.type(), "", bytes, why));
      }
    }
    boolean sure = tables.size() > 2;
    String verdict = findings.isEmpty() ? "none" : sure ? "growth" : "unclear";
    return new GrowthAnswer(
        tables.stream().map(TypeTable::summary).toList(),
        actions.length == 0 ? 0 : actions[0],
        Arrays.stream(actions).boxed().toList(),
        verdict,
        findings.isEmpty()
            ? "No steady growth: no type piles up from snapshot to snapshot."
            : findings.get(0).sentence(),
        Arrays.stream(heap).boxed().toList(),
        findings,
        aside);
  }

  private static String whyNot(Row row, Trend trend, boolean ownFound) {
    if (trend.noGrowth() != null) {
      return trend.noGrowth();
    }
    return !row.mine() && ownFound
        ? "is what the types above consist of, as far as can be told"
        : "";
  }

  private Finding finding(Row row, Trend trend) {
    int last = row.counts().length - 1;
    long more = row.counts()[last] - row.counts()[0];
    long all = Arrays.stream(actions).asLongStream().sum();
    double countEach = all == 0 ? 0 : more / (double) all;
    double bytesEach = all == 0 ? 0 : row.grown() / (double) all;
    List<String> reasons = new ArrayList<>();
    double confidence = last < 2 ? 0.4 : 0.7;
    if (trend.exactPerAction() > 0 && all > 0) {
      confidence = last < 2 ? 0.6 : 0.9;
      reasons.add("exactly " + trend.exactPerAction() + " more with each action");
    } else if (last >= 2) {
      reasons.add("more of them in each snapshot");
    } else {
      reasons.add("two snapshots show no trend");
    }
    if (trend.confirmed()) {
      confidence = Math.min(0.95, confidence + 0.1);
      reasons.add("it went on in proportion in the long last round");
    }
    reasons.add("types alone do not tell what holds them");
    String sentence =
        row.type()
            + (more > 0 ? " piles up: " : " grows in size: ")
            + (more > 0
                ? String.format(java.util.Locale.ROOT, "%,d more", more)
                : String.format(java.util.Locale.ROOT, "%,d bytes more", row.grown()))
            + (all == 0 ? "" : String.format(java.util.Locale.ROOT, ", %.2f an action", countEach))
            + ". What holds them, whole snapshots of one format tell.";
    return new Finding(
        row.type(),
        "",
        List.of(),
        "",
        "",
        "",
        countEach,
        bytesEach,
        Arrays.stream(row.counts()).boxed().toList(),
        Arrays.stream(row.bytes()).boxed().toList(),
        confidence,
        reasons,
        sentence,
        List.of(),
        List.of(),
        0);
  }
}
