package lipsanon.question;

import java.io.IOException;
import java.util.Collections;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.TreeMap;
import lipsanon.array.IntList;
import lipsanon.holder.HolderSearch;
import lipsanon.holder.Holding;
import lipsanon.index.RootInfo;
import lipsanon.index.Snapshot;
import lipsanon.label.Families;
import lipsanon.label.Labels;
import lipsanon.label.NearestPaths;
import lipsanon.label.Threads;

/** What looks wrong with the threads of a snapshot. */
final class ThreadFindings {
  private static final double LARGE = SurveyFindings.LARGE;
  private static final int MANY = 40;
  private static final String FINALIZER = "\"Finalizer\"";

  private final Snapshot snapshot;
  private final HolderSearch search;
  private final FindingList findings;
  private final double heap;

  ThreadFindings(Snapshot snapshot, HolderSearch search, FindingList findings) {
    this.snapshot = snapshot;
    this.search = search;
    this.findings = findings;
    this.heap = Math.max(1, snapshot.totals().retainedBytes());
  }

  /** Objects that wait for their finalizers, and what the thread is at that runs these. */
  void finalizers() throws IOException {
    long bytes = snapshot.totals().finalizerBytes();
    if (bytes < LARGE * heap) {
      return;
    }
    Map<String, Long> byType = new TreeMap<>();
    IntList waiting = new IntList();
    IntList thread = new IntList();
    for (RootInfo root : snapshot.roots()) {
      if (root.kind().equals(RootInfo.WAITING)) {
        waiting.add(root.node());
        String type = Families.of(snapshot.typeName(root.node()));
        byType.merge(type, snapshot.retainedBytes(root.node()), Long::sum);
      } else if (root.kind().equals(RootInfo.THREAD)
          && Labels.of(snapshot, root.node()).equals(FINALIZER)) {
        thread.add(root.node());
      }
    }
    if (waiting.isEmpty()) {
      return;
    }
    String what = Collections.max(byType.entrySet(), Map.Entry.comparingByValue()).getKey();
    String runs = thread.isEmpty() ? "" : Threads.runs(snapshot, thread);
    double share = bytes / heap;
    findings.add(
        what,
        Holding.unknown("the queue of the finalizer thread"),
        -1,
        waiting.size(),
        bytes,
        Math.min(0.45, 0.15 + share / 2),
        List.of("finalizers run one after another: a slow or stuck one holds up all others"),
        String.format(
            Locale.ROOT,
            "%,d objects, most of them %s, only wait for their finalizers and retain %s (%.0f %% of"
                + " the heap)%s.",
            waiting.size(),
            what,
            Labels.bytes(bytes),
            share * 100,
            !runs.isEmpty() ? "; the finalizer thread is in " + runs : ""),
        new NearestPaths(snapshot).to(waiting.get(waiting.size() / 2)));
  }

  /** Threads of one kind that nobody ends: each keeps what its work was about. */
  void alike() throws IOException {
    ThreadPile pile = ThreadPile.largest(snapshot, MANY);
    if (pile == null || pile.bytes < LARGE * heap || findings.explain(pile.bytes)) {
      return;
    }
    double share = pile.bytes / heap;
    int first = pile.threads.get(0);
    findings.add(
        snapshot.typeName(first),
        search.search(pile.threads),
        -1,
        pile.threads.size(),
        pile.bytes,
        Math.min(0.4, 0.12 + share / 2),
        List.of("a thread keeps its variables as long as it runs", SurveyFindings.NO_TREND),
        String.format(
            Locale.ROOT,
            "%,d %s%s keep %s (%.0f %% of the heap)%s.",
            pile.threads.size(),
            Threads.noun(snapshot, first),
            pile.family.isEmpty() ? "" : " called " + pile.family,
            Labels.bytes(pile.bytes),
            share * 100,
            runs(pile.threads)),
        new NearestPaths(snapshot).to(first));
  }

  private String runs(IntList threads) throws IOException {
    String runs = Threads.runs(snapshot, threads);
    return runs.isEmpty() ? "" : ", most of them in " + runs;
  }

  /** A thread that keeps much alone. */
  void single() throws IOException {
    for (RootInfo root : snapshot.roots()) {
      long bytes = snapshot.retainedBytes(root.node());
      if (root.kind().equals(RootInfo.THREAD)
          && bytes >= 2 * LARGE * heap
          && !findings.explainBelow(root.node(), bytes)) {
        String name = Labels.of(snapshot, root.node());
        findings.add(
            snapshot.typeName(root.node()),
            search.searchOne(root.node()),
            -1,
            1,
            bytes,
            0.12,
            List.of("a thread keeps its local variables and thread locals as long as it runs"),
            String.format(
                Locale.ROOT,
                "Thread %s (%s) keeps %s (%.0f %% of the heap) alone.",
                name,
                snapshot.id(root.node()),
                Labels.bytes(bytes),
                100 * bytes / heap),
            new NearestPaths(snapshot).to(root.node()));
      }
    }
  }
}
