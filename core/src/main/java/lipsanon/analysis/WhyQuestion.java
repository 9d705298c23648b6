package lipsanon.analysis;

import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import lipsanon.array.IntList;
import lipsanon.index.Snapshot;

/** Why is this still alive: nearest paths from roots, merged for many objects. */
public final class WhyQuestion {
  private static final int DOMINATORS = 12;

  /** How many objects of a type are followed at most; of more, evenly spaced ones. */
  private static final int SAMPLE = 20_000;

  private WhyQuestion() {}

  /**
   * For one object.
   *
   * @param whole whether paths begin at the root even where the user's own anchor is on the way
   */
  public static WhyAnswer ofObject(Snapshot snapshot, int node, boolean whole) throws IOException {
    List<Step> steps = new NearestPaths(snapshot).to(node, whole);
    List<WhyAnswer.Path> paths = new ArrayList<>();
    if (!steps.isEmpty()) {
      paths.add(
          new WhyAnswer.Path(
              1, 1, strength(snapshot, node), steps, OriginsQuestion.stack(snapshot, node)));
    }
    ObjectRows rows = new ObjectRows(snapshot);
    List<ObjectRow> dominators = new ArrayList<>();
    int above = snapshot.dominator(node);
    for (; above >= 0 && dominators.size() < DOMINATORS; above = snapshot.dominator(above)) {
      dominators.add(rows.row(above));
    }
    return new WhyAnswer(
        SnapshotSummary.of(snapshot),
        snapshot.id(node),
        1,
        1,
        steps.isEmpty() ? 1 : 0,
        paths,
        0,
        dominators);
  }

  /**
   * For all objects of some types.
   *
   * @param subject how the user named them
   * @param limit paths at most
   * @param whole as for {@link #ofObject}
   */
  public static WhyAnswer ofObjects(
      Snapshot snapshot, String subject, IntList nodes, int limit, boolean whole)
      throws IOException {
    MergedPaths merged = new MergedPaths(snapshot);
    int looked = 0;
    int unretained = 0;
    int every = (nodes.size() + SAMPLE - 1) / SAMPLE;
    for (int i = 0; i < nodes.size(); i += Math.max(1, every)) {
      looked++;
      if (!merged.add(nodes.get(i))) {
        unretained++;
      }
    }
    List<MergedPaths.Merged> found = merged.mostFrequent();
    NearestPaths nearest = new NearestPaths(snapshot);
    List<WhyAnswer.Path> paths = new ArrayList<>();
    for (MergedPaths.Merged path : found.subList(0, Math.min(limit, found.size()))) {
      paths.add(
          new WhyAnswer.Path(
              path.count(),
              path.count() / (double) looked,
              strength(snapshot, path.example()),
              nearest.to(path.example(), whole),
              OriginsQuestion.stack(snapshot, path.example())));
    }
    return new WhyAnswer(
        SnapshotSummary.of(snapshot),
        subject,
        nodes.size(),
        looked,
        unretained,
        paths,
        found.size() - paths.size(),
        List.of());
  }

  private static String strength(Snapshot snapshot, int node) {
    return snapshot.strength(node).name().toLowerCase(Locale.ROOT);
  }
}
