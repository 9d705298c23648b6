package lipsanon.question;

import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import lipsanon.index.RootInfo;
import lipsanon.index.Snapshot;
import lipsanon.index.Totals;
import lipsanon.label.SnapshotSummary;
import lipsanon.label.TypeFilter;

/** How big, what kinds, who keeps most, what looks wrong. */
public final class SurveyQuestion {
  private SurveyQuestion() {}

  /**
   * Answers.
   *
   * @param mine what counts as the user's own types
   * @param limit rows at most in each list
   */
  public static SurveyAnswer ask(Snapshot snapshot, TypeFilter mine, int limit) throws IOException {
    Totals totals = snapshot.totals();
    Map<String, Long> kinds = new TreeMap<>();
    for (RootInfo root : snapshot.roots()) {
      kinds.merge(root.kind(), 1L, Long::sum);
    }
    List<SurveyAnswer.RootKind> roots = new ArrayList<>();
    kinds.forEach((kind, count) -> roots.add(new SurveyAnswer.RootKind(kind, count)));
    TypeFilter own = new TypeFilter(null, mine.mine(), true);
    return new SurveyAnswer(
        SnapshotSummary.of(snapshot),
        snapshot.facts().version(),
        totals,
        totals.objects() - totals.retainedObjects(),
        totals.shallowBytes() - totals.retainedBytes(),
        snapshot.facts().layout(),
        snapshot.facts().estimatedTypes(),
        snapshot.facts().warnings(),
        snapshot.facts().danglingReferences(),
        SurveyFindings.of(snapshot, new TypeFilter(null, mine.mine(), false)),
        KeepersQuestion.ask(snapshot, -1, TypeFilter.ALL, limit).keepers(),
        TypesQuestion.ask(snapshot, own, TypesQuestion.Sort.RETAINED, limit).types(),
        TypesQuestion.ask(snapshot, TypeFilter.ALL, TypesQuestion.Sort.SHALLOW, limit).types(),
        roots,
        HeapArea.of(snapshot),
        snapshot.objects().freeSizes(),
        snapshot.objects().onStacksAlone().objects(),
        snapshot.objects().onStacksAlone().bytes());
  }
}
