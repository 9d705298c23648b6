package lipsanon.change;

import java.io.IOException;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import lipsanon.index.Snapshot;
import lipsanon.label.SnapshotSummary;
import lipsanon.label.TypeFilter;
import lipsanon.question.RefsAnswer;
import lipsanon.question.RefsQuestion;

/** References merged over a set, before and after. */
public final class RefsChangesQuestion {
  private RefsChangesQuestion() {}

  /**
   * Answers.
   *
   * @param setBefore the set in the earlier snapshot
   * @param setAfter the set in the later one
   * @param in who refers to it, else what it refers to
   * @param limit rows at most
   */
  public static RefsChangesAnswer ask(
      Snapshot before,
      Snapshot after,
      BitSet setBefore,
      BitSet setAfter,
      String selection,
      boolean in,
      TypeFilter mine,
      int limit)
      throws IOException {
    RefsQuestion.Options options =
        new RefsQuestion.Options(selection, in, false, false, 1, false, Integer.MAX_VALUE, mine);
    Map<String, RefsAnswer.Row[]> rows = new LinkedHashMap<>();
    collect(RefsQuestion.ask(before, setBefore, options), 0, rows);
    collect(RefsQuestion.ask(after, setAfter, options), 1, rows);
    List<RefsChangesAnswer.Row> changes = new ArrayList<>();
    for (RefsAnswer.Row[] both : rows.values()) {
      RefsAnswer.Row any = both[0] == null ? both[1] : both[0];
      long was = both[0] == null ? 0 : both[0].members();
      long is = both[1] == null ? 0 : both[1].members();
      changes.add(
          new RefsChangesAnswer.Row(
              any.place(),
              any.type(),
              any.within(),
              was,
              is,
              is - was,
              both[0] == null ? 0 : both[0].others(),
              both[1] == null ? 0 : both[1].others()));
    }
    changes.sort(
        Comparator.comparingLong((RefsChangesAnswer.Row row) -> -Math.abs(row.difference()))
            .thenComparingLong(row -> -row.countAfter()));
    return new RefsChangesAnswer(
        SnapshotSummary.of(before),
        SnapshotSummary.of(after),
        selection,
        in ? "in" : "out",
        setBefore.cardinality(),
        setAfter.cardinality(),
        List.copyOf(changes.subList(0, Math.min(limit, changes.size()))));
  }

  private static void collect(RefsAnswer answer, int slot, Map<String, RefsAnswer.Row[]> rows) {
    for (RefsAnswer.Level level : answer.levels()) {
      for (RefsAnswer.Row row : level.rows()) {
        String key = row.place() + "\n" + row.type() + "\n" + row.within();
        rows.computeIfAbsent(key, k -> new RefsAnswer.Row[2])[slot] = row;
      }
    }
  }
}
