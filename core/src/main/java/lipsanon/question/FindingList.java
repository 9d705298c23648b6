package lipsanon.question;

import java.io.IOException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import lipsanon.array.IntList;
import lipsanon.holder.Finding;
import lipsanon.holder.HolderPath;
import lipsanon.holder.Holding;
import lipsanon.index.Snapshot;
import lipsanon.label.Step;

/** The findings of one snapshot, as they are made. One thread. */
final class FindingList {
  /** What explains so much of some bytes leaves no second finding for them. */
  private static final double EXPLAINED = 0.5;

  private static final double NEARLY_ALL = 0.95;

  /** How sure it is at most that copies of code are not meant to be there, and by each of them. */
  private static final double COPIES = 0.35;

  private static final double BY_COPY = 0.06;

  private final Snapshot snapshot;
  private final List<Finding> findings = new ArrayList<>();

  FindingList(Snapshot snapshot) {
    this.snapshot = snapshot;
  }

  /** Those that are the surest, the surest first. */
  List<Finding> best(int most) {
    findings.sort(Comparator.comparingDouble(Finding::confidence).reversed());
    return List.copyOf(findings.subList(0, Math.min(most, findings.size())));
  }

  /** Whether what was found already says where most of some bytes are. */
  boolean explain(long bytes) {
    return findings.stream().anyMatch(finding -> finding.bytes().get(0) >= EXPLAINED * bytes);
  }

  /** The same of what one object dominates: what was found must be there. */
  boolean explainBelow(int node, long bytes) {
    return findings.stream()
        .anyMatch(finding -> finding.bytes().get(0) >= EXPLAINED * bytes && isBelow(finding, node));
  }

  private boolean isBelow(Finding finding, int node) {
    List<Step> steps = finding.steps();
    return !steps.isEmpty()
        && PileFindings.isWithin(snapshot, snapshot.nodeOf(steps.get(steps.size() - 1).id()), node);
  }

  /** Whether only a part of what is called so, which has so many bytes in all, was found. */
  boolean explainPartOf(String what, long bytes) {
    return findings.stream()
        .anyMatch(known -> known.what().equals(what) && known.bytes().get(0) < NEARLY_ALL * bytes);
  }

  /** Whether it was found that something is held in this way. */
  boolean knows(String what, Holding holding) {
    return findings.stream().anyMatch(known -> isOf(known, what, holding));
  }

  private static boolean isOf(Finding known, String what, Holding holding) {
    return known.what().equals(what) && known.heldBy().equals(holding.text());
  }

  /** Forgets what was found of parts of something that one holder holds: segments of a table. */
  void dropPartsOf(String what, Holding holding) {
    findings.removeIf(known -> isOf(known, what, holding));
  }

  /**
   * Adds a finding of code that was loaded several times over: nothing that has a size of its own,
   * and that may be meant.
   *
   * @param objects those that keep the copies; the way leads to the first, if its holder is known
   */
  void addCopies(
      String what, Holding holding, int count, String reason, String sentence, IntList objects)
      throws IOException {
    boolean known = !holding.places().isEmpty();
    add(
        what,
        known ? holding : Holding.unknown(holding.owner()),
        -1,
        count,
        0,
        Math.min(COPIES, BY_COPY * count),
        List.of(reason),
        sentence,
        known ? way(holding, objects) : List.of());
  }

  /** The way from a holder to the first of some objects; none if there is nothing to begin at. */
  List<Step> way(Holding holding, IntList objects) throws IOException {
    Holding.Place first = holding.places().get(0);
    return objects.isEmpty() || first.target() < 0
        ? List.of()
        : new HolderPath(snapshot).to(objects.get(0), first);
  }

  /**
   * Adds a finding.
   *
   * @param what the type that it is about
   * @param container the object that refers to what piles up, or -1
   * @param steps the way from the holder to one of the objects
   */
  void add(
      String what,
      Holding holding,
      int container,
      long count,
      long bytes,
      double confidence,
      List<String> reasons,
      String sentence,
      List<Step> steps) {
    findings.add(
        new Finding(
            what,
            holding.text(),
            holding.inside(),
            container < 0 ? "" : snapshot.typeName(container),
            container < 0 ? "" : snapshot.id(container),
            steps.isEmpty() ? "" : steps.get(0).via(),
            0,
            0,
            List.of(count),
            List.of(bytes),
            confidence,
            reasons,
            sentence,
            steps,
            Finding.holders(snapshot, holding, count),
            holding.freedShare()));
  }
}
