package lipsanon.change;

import java.time.Instant;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.regex.Pattern;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeCounts;
import lipsanon.index.TypeInfo;
import lipsanon.label.SnapshotSummary;
import lipsanon.label.TypeFilter;
import lipsanon.live.LightSnapshot;

/**
 * What light and whole snapshots have in common: objects and bytes by type.
 *
 * @param summary of the snapshot
 * @param takenAtMillis since the epoch, or 0
 * @param live whether garbage was left out
 * @param types by name
 */
public record TypeTable(
    SnapshotSummary summary, long takenAtMillis, boolean live, Map<String, Row> types) {
  /**
   * A type.
   *
   * @param count its objects
   * @param shallowBytes their own sizes
   * @param mine whether it is the user's own
   */
  public record Row(long count, long shallowBytes, boolean mine) {}

  /** What belongs to the runtime, by name alone. */
  private static final Pattern LIBRARY =
      Pattern.compile(
          "(java|javax|jdk|sun|com\\.sun|System|Microsoft|Internal)\\..*"
              + "|(byte|char|double|float|int|long|short|boolean)(\\[\\])+|v8:.*|system / .*|Node / .*"
              + "|\\(.*|(Object|Array|String|Map|Set|Promise|Function)(\\[\\])*");

  /** Of a light snapshot, whose types are told apart by their names alone. */
  public static TypeTable of(String file, LightSnapshot light, TypeFilter mine) {
    Map<String, Row> types = new TreeMap<>();
    for (LightSnapshot.Type type : light.types()) {
      boolean own = own(type.type(), mine.mine());
      add(types, type.type(), new Row(type.count(), type.shallowBytes(), own));
    }
    String at = Instant.ofEpochMilli(light.takenAtMillis()).toString();
    long bytes = light.shallowBytes();
    SnapshotSummary summary =
        new SnapshotSummary(
            file, light.runtime(), at, light.count(), light.count(), bytes, bytes, false);
    return new TypeTable(summary, light.takenAtMillis(), light.live(), types);
  }

  /**
   * Whether a type is the user's own, by its name alone.
   *
   * @param mine stems of the user's names, with or without a star at the end; empty: all that is
   *     not the runtime's
   */
  public static boolean own(String type, List<String> mine) {
    if (mine.isEmpty()) {
      return !LIBRARY.matcher(type).matches();
    }
    for (String stem : mine) {
      if (type.startsWith(stem.endsWith("*") ? stem.substring(0, stem.length() - 1) : stem)) {
        return true;
      }
    }
    return false;
  }

  /** Of a whole snapshot. */
  public static TypeTable of(Snapshot snapshot, TypeFilter mine) {
    Map<String, Row> types = new TreeMap<>();
    for (int t = 0; t < snapshot.types().size(); t++) {
      TypeInfo type = snapshot.types().get(t);
      TypeCounts counts = snapshot.counts(t);
      if (counts.count() > 0) {
        add(types, type.name(), new Row(counts.count(), counts.shallowBytes(), mine.isMine(type)));
      }
    }
    long at = snapshot.facts().capturedAtMillis();
    return new TypeTable(SnapshotSummary.of(snapshot), at, true, types);
  }

  /**
   * The same tables with the same names for the same types: some snapshots leave out what a nested
   * type stands in ({@code Entry<A, B>} for {@code Space.Map.Entry<A, B>}), and then all go by the
   * short name.
   */
  public static List<TypeTable> aligned(List<TypeTable> tables) {
    Set<String> known = new HashSet<>();
    tables.forEach(table -> known.addAll(table.types.keySet()));
    List<TypeTable> all = new ArrayList<>();
    for (TypeTable table : tables) {
      Map<String, Row> types = new TreeMap<>();
      table.types.forEach((name, row) -> add(types, shortest(name, table, known), row));
      all.add(new TypeTable(table.summary, table.takenAtMillis, table.live, types));
    }
    return all;
  }

  private static String shortest(String name, TypeTable table, Set<String> known) {
    int depth = 0;
    for (int i = name.length() - 1; i > 0; i--) {
      char c = name.charAt(i);
      depth += c == '>' ? 1 : c == '<' ? -1 : 0;
      if (c == '.' && depth == 0) {
        String inner = name.substring(i + 1);
        // a type of that very name in this table would be another one
        return known.contains(inner) && !table.types.containsKey(inner) ? inner : name;
      }
    }
    return name;
  }

  private static void add(Map<String, Row> types, String name, Row row) {
    types.merge(
        name,
        row,
        (a, b) ->
            new Row(
                a.count() + b.count(), a.shallowBytes() + b.shallowBytes(), a.mine() || b.mine()));
  }

  /** All bytes. */
  long bytes() {
    long sum = 0;
    for (Row row : types.values()) {
      sum += row.shallowBytes();
    }
    return sum;
  }
}
