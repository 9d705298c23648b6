package lipsanon.question;

import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Objects;
import java.util.Set;
import java.util.TreeSet;
import lipsanon.array.IntList;
import lipsanon.index.Snapshot;
import lipsanon.label.Closed;
import lipsanon.label.NearestPaths;
import lipsanon.label.ObjectRow;
import lipsanon.label.ObjectRows;
import lipsanon.label.Ownership;
import lipsanon.label.SnapshotSummary;
import lipsanon.label.Step;
import lipsanon.label.TypeFilter;
import lipsanon.origin.OriginsQuestion;

/** Why is this still alive: nearest paths from roots, merged for many objects. */
public final class WhyQuestion {
  private static final int DOMINATORS = 12;

  /** How many objects of a type are followed at most; of more, evenly spaced ones. */
  private static final int SAMPLE = 200_000;

  /** Rows of the merged tree. */
  private static final int STEPS = 30;

  private static final int MOST_WEAK = 50;

  private WhyQuestion() {}

  /**
   * For one object.
   *
   * @param whole whether paths begin at the root even where the user's own anchor is on the way
   * @param closed names of fields by which objects say that they are done with
   */
  public static WhyAnswer ofObject(Snapshot snapshot, int node, boolean whole, Set<String> closed)
      throws IOException {
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
        dominators,
        null,
        steps.isEmpty() ? weakly(snapshot, node) : List.of(),
        Objects.requireNonNullElse(Closed.field(snapshot, node, closed), ""));
  }

  /**
   * For all objects of some types.
   *
   * @param subject how the user named them
   * @param limit paths at most
   * @param whole as for {@link #ofObject}
   * @param mine the user's own types
   */
  public static WhyAnswer ofObjects(
      Snapshot snapshot, String subject, IntList nodes, int limit, boolean whole, TypeFilter mine)
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
        List.of(),
        merged.ways(new Ownership(snapshot, mine), whole, STEPS),
        List.of(),
        "");
  }

  /** Who refers to an object that nothing keeps. */
  private static List<String> weakly(Snapshot snapshot, int node) throws IOException {
    TreeSet<String> ways = new TreeSet<>();
    IntList referring = snapshot.inbound(node);
    for (int i = 0; i < referring.size() && i < MOST_WEAK; i++) {
      int from = referring.get(i);
      snapshot
          .objects()
          .references(
              from,
              reference -> {
                if (reference.target() == node) {
                  String kind = reference.kind().name().toLowerCase(Locale.ROOT);
                  boolean gone = snapshot.depth(from) == 0;
                  ways.add(
                      reference.via().group()
                          + " ("
                          + (kind.equals("strong") ? "a strong reference" : kind)
                          + (gone ? ", from what nothing keeps either" : "")
                          + ")");
                }
              });
    }
    return List.copyOf(ways);
  }

  private static String strength(Snapshot snapshot, int node) {
    return snapshot.strength(node).name().toLowerCase(Locale.ROOT);
  }
}
