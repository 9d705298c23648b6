package lipsanon.cli.watch;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import lipsanon.capture.TypeCounts;
import lipsanon.change.TypeTable;
import lipsanon.label.Families;
import lipsanon.label.Wildcard;

/** The types of a count with their differences, sorted and filtered as the user wants. */
public final class TypeRows {
  /** What comes first. */
  public enum Sort {
    /** What grew most since the baseline, in bytes. */
    GROWTH("bytes since baseline"),
    /** The same in objects. */
    COUNT_GROWTH("count since baseline"),
    /** What grew most since the last count. */
    RECENT("bytes since last count"),
    /** What is largest. */
    BYTES("bytes"),
    /** What there is most of. */
    COUNT("count");

    private final String words;

    Sort(String words) {
      this.words = words;
    }

    String words() {
      return words;
    }

    boolean ownFirst() {
      return this == GROWTH || this == COUNT_GROWTH || this == RECENT;
    }

    Sort next() {
      return values()[(ordinal() + 1) % values().length];
    }
  }

  /**
   * A type.
   *
   * @param type its name; that of its family for generated classes
   * @param countDifference since the baseline
   * @param bytesDifference since the baseline
   * @param countRecent since the last count
   * @param bytesRecent since the last count
   */
  public record Row(
      String type,
      long count,
      long shallowBytes,
      long countDifference,
      long bytesDifference,
      long countRecent,
      long bytesRecent) {}

  private TypeRows() {}

  /**
   * The rows of the newest count.
   *
   * @param match a part of the names or a pattern, or ""
   * @param own whether only the user's own types
   * @param mine the user's packages; empty: all that is not the runtime's
   */
  public static List<Row> of(
      Watched watched, Sort sort, String match, boolean own, List<String> mine) {
    if (watched.last() == null) {
      return List.of();
    }
    Map<String, long[]> now = sums(watched.last());
    Map<String, long[]> base = sums(watched.baseline());
    Map<String, long[]> last = watched.before() == null ? now : sums(watched.before());
    base.keySet().forEach(type -> now.putIfAbsent(type, new long[2]));
    Wildcard wanted = match.isEmpty() ? null : Wildcard.of(match);
    List<Row> rows = new ArrayList<>();
    long[] none = new long[2];
    now.forEach(
        (type, sum) -> {
          if (own && !TypeTable.own(type, mine) || wanted != null && !wanted.fits(type)) {
            return;
          }
          long[] b = base.getOrDefault(type, none);
          long[] l = last.getOrDefault(type, none);
          rows.add(
              new Row(
                  type,
                  sum[0],
                  sum[1],
                  sum[0] - b[0],
                  sum[1] - b[1],
                  sum[0] - l[0],
                  sum[1] - l[1]));
        });
    // of what grew, the user's own says most: what it consists of grows along
    Comparator<Row> largest =
        Comparator.comparingLong((Row row) -> key(row, sort)).thenComparingLong(Row::shallowBytes);
    rows.sort(
        Comparator.comparing(
                (Row row) ->
                    sort.ownFirst() && key(row, sort) > 0 && TypeTable.own(row.type(), mine))
            .thenComparing(largest)
            .reversed());
    return rows;
  }

  private static long key(Row row, Sort sort) {
    return switch (sort) {
      case GROWTH -> row.bytesDifference();
      case COUNT_GROWTH -> row.countDifference();
      case RECENT -> row.bytesRecent();
      case BYTES -> row.shallowBytes();
      case COUNT -> row.count();
    };
  }

  private static Map<String, long[]> sums(TypeCounts counts) {
    Map<String, long[]> sums = new HashMap<>();
    for (TypeCounts.TypeCount row : counts.types()) {
      long[] sum = sums.computeIfAbsent(Families.of(row.type()), key -> new long[2]);
      sum[0] += row.count();
      sum[1] += row.bytes();
    }
    return sums;
  }
}
