package lipsanon.origin;

import java.io.IOException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import lipsanon.array.IntList;
import lipsanon.index.Recording;
import lipsanon.index.Snapshot;

/** Where were the objects allocated: by function, by stack, in a window of time. */
public final class OriginsQuestion {
  private static final double LEAST_SHARE = 0.01;

  private final Recording recording;
  private final Options options;

  /** By node: what the answer counts. */
  private long[] liveCount;

  private long[] liveBytes;
  private boolean filtered;

  /**
   * What to answer.
   *
   * @param innermost name the innermost function, not the nearest of the user's own
   * @param callers turn the tree of stacks round: from the allocating function to its callers
   * @param fromMillis only what was allocated from then on, or 0
   * @param toMillis only what was allocated before then, or {@link Long#MAX_VALUE}
   * @param limit functions at most; twice as many steps of the tree
   */
  public record Options(
      boolean innermost, boolean callers, long fromMillis, long toMillis, int limit) {
    /** Whether the answer is limited to a part of the recording's time. */
    public boolean window() {
      return fromMillis > 0 || toMillis < Long.MAX_VALUE;
    }
  }

  private OriginsQuestion(Recording recording, Options options) {
    this.recording = recording;
    this.options = options;
    this.liveCount = recording.liveCount();
    this.liveBytes = recording.liveBytes();
  }

  /** For a recording without a snapshot: samples. */
  public static OriginsAnswer ofSamples(String file, Recording recording, Options options) {
    return new OriginsQuestion(recording, options).answer(file, "", List.of());
  }

  /**
   * For a snapshot that was recorded.
   *
   * @param selection what the user limits the answer to, in words, or ""
   * @param nodes those objects, or null for all
   */
  public static OriginsAnswer ofSnapshot(
      Snapshot snapshot, String selection, IntList nodes, Options options) throws IOException {
    Recording recording = snapshot.objects().recording();
    if (recording == null) {
      throw new IllegalArgumentException("no recording");
    }
    OriginsQuestion question = new OriginsQuestion(recording, options);
    List<OriginsAnswer.IntervalRow> intervals = question.count(snapshot, nodes);
    return question.answer(snapshot.file().toString(), selection, intervals);
  }

  /** Counts the objects that are asked for, by stack and by interval. */
  private List<OriginsAnswer.IntervalRow> count(Snapshot snapshot, IntList nodes)
      throws IOException {
    int[] from = {intervalAt(options.fromMillis()), intervalAt(options.toMillis())};
    filtered = nodes != null || options.window();
    if (filtered) {
      liveCount = new long[recording.parent().length];
      liveBytes = new long[recording.parent().length];
    }
    long[] counts = new long[recording.ends().length];
    long[] bytes = new long[counts.length];
    int size = nodes == null ? snapshot.objectCount() : nodes.size();
    for (int i = 0; i < size; i++) {
      int node = nodes == null ? i : nodes.get(i);
      int origin = snapshot.objects().origin(node);
      if (origin < 0) {
        continue;
      }
      int interval = recording.interval(snapshot.rawId(node));
      if (interval >= 0) {
        counts[interval]++;
        bytes[interval] += snapshot.shallowBytes(node);
      }
      if (filtered && (!options.window() || interval >= from[0] && interval <= from[1])) {
        liveCount[origin]++;
        liveBytes[origin] += snapshot.shallowBytes(node);
      }
    }
    return rows(counts, bytes);
  }

  private int intervalAt(long millis) {
    int at = 0;
    while (at < recording.ends().length - 1 && recording.ends()[at] < millis) {
      at++;
    }
    return at;
  }

  private List<OriginsAnswer.IntervalRow> rows(long[] counts, long[] bytes) {
    List<OriginsAnswer.IntervalRow> rows = new ArrayList<>();
    // what was seen in the first interval was there before, most of it
    long[] seen = recording.intervalBytes();
    long before = 0;
    for (int i = 0; i < counts.length; i++) {
      long end = recording.ends()[i];
      rows.add(
          new OriginsAnswer.IntervalRow(
              before, end, counts[i], bytes[i], i > 0 && i < seen.length ? seen[i] : 0));
      before = end;
    }
    return rows;
  }

  private OriginsAnswer answer(
      String file, String selection, List<OriginsAnswer.IntervalRow> intervals) {
    long[] allCount = filtered ? new long[liveCount.length] : recording.allCount();
    long[] allBytes = filtered ? new long[liveCount.length] : recording.allBytes();
    boolean live = sum(liveBytes) > 0 || sum(allBytes) == 0;
    long[] weight = live ? liveBytes : allBytes;
    long[] count = live ? liveCount : allCount;
    long ended = recording.ends().length == 0 ? 0 : recording.ends()[recording.ends().length - 1];
    return new OriginsAnswer(
        file,
        recording.kind(),
        recording.sampled(),
        selection,
        ended / 1000.0,
        sum(liveCount),
        sum(liveBytes),
        sum(allCount),
        sum(allBytes),
        functions(allCount, allBytes, weight),
        stacks(count, weight),
        intervals);
  }

  private static long sum(long[] values) {
    long sum = 0;
    for (long value : values) {
      sum += value;
    }
    return sum;
  }

  private Recording.Frame frame(int node) {
    return recording.frames().get(recording.frame()[node]);
  }

  /** The frame that is named for a stack: the nearest of the user's own, or the innermost. */
  private Recording.Frame named(int node) {
    if (!options.innermost()) {
      for (int at = node; at >= 0; at = recording.parent()[at]) {
        if (!frame(at).library()) {
          return frame(at);
        }
      }
    }
    return frame(node);
  }

  private List<OriginsAnswer.FunctionRow> functions(
      long[] allCount, long[] allBytes, long[] weight) {
    Map<Recording.Frame, long[]> sums = new HashMap<>();
    for (int node = 0; node < liveCount.length; node++) {
      if (liveCount[node] > 0 || allCount[node] > 0 || weight[node] > 0) {
        long[] row = sums.computeIfAbsent(named(node), key -> new long[5]);
        row[0] += liveCount[node];
        row[1] += liveBytes[node];
        row[2] += allCount[node];
        row[3] += allBytes[node];
        row[4] += weight[node];
      }
    }
    double total = Math.max(1, sum(weight));
    List<OriginsAnswer.FunctionRow> rows = new ArrayList<>();
    sums.forEach(
        (f, row) ->
            rows.add(
                new OriginsAnswer.FunctionRow(
                    f.function(),
                    f.script(),
                    f.line(),
                    f.column(),
                    row[0],
                    row[1],
                    row[2],
                    row[3],
                    row[4] / total)));
    rows.sort(
        Comparator.comparingDouble(OriginsAnswer.FunctionRow::share)
            .thenComparingLong(OriginsAnswer.FunctionRow::allBytes)
            .reversed());
    return List.copyOf(rows.subList(0, Math.min(options.limit(), rows.size())));
  }

  /** A step of the merged stacks. */
  private static final class Step {
    final Recording.Frame frame;
    final Map<Recording.Frame, Step> next = new HashMap<>();
    long count;
    long bytes;

    Step(Recording.Frame frame) {
      this.frame = frame;
    }
  }

  private List<OriginsAnswer.StackRow> stacks(long[] count, long[] weight) {
    Step root = new Step(null);
    for (int node = 0; node < weight.length; node++) {
      if (weight[node] > 0) {
        Step at = root;
        at.bytes += weight[node];
        for (Recording.Frame frame : path(node)) {
          at = at.next.computeIfAbsent(frame, Step::new);
          at.count += count[node];
          at.bytes += weight[node];
        }
      }
    }
    List<OriginsAnswer.StackRow> rows = new ArrayList<>();
    List<Step> pending = new ArrayList<>();
    List<Integer> depths = new ArrayList<>();
    push(root, 0, pending, depths);
    double total = Math.max(1, root.bytes);
    while (!pending.isEmpty() && rows.size() < 2 * options.limit()) {
      Step step = pending.remove(pending.size() - 1);
      int depth = depths.remove(depths.size() - 1);
      double share = step.bytes / total;
      if (share >= LEAST_SHARE) {
        rows.add(
            new OriginsAnswer.StackRow(depth, step.frame.text(), step.count, step.bytes, share));
        push(step, depth + 1, pending, depths);
      }
    }
    return rows;
  }

  /** The largest next step on top. */
  private static void push(Step step, int depth, List<Step> pending, List<Integer> depths) {
    List<Step> next = new ArrayList<>(step.next.values());
    next.sort(Comparator.comparingLong(s -> s.bytes));
    for (Step s : next) {
      pending.add(s);
      depths.add(depth);
    }
  }

  /** The frames of a stack in the order asked for, without the root. */
  private List<Recording.Frame> path(int node) {
    List<Recording.Frame> frames = new ArrayList<>();
    for (int at = node; at > 0; at = recording.parent()[at]) {
      frames.add(frame(at));
    }
    if (!options.callers()) {
      java.util.Collections.reverse(frames);
    }
    return frames;
  }

  /** The stack of an object as text, the innermost function first; empty if it is not known. */
  public static List<String> stack(Snapshot snapshot, int node) throws IOException {
    List<String> frames = new ArrayList<>();
    int origin = snapshot.objects().origin(node);
    Recording recording = origin < 0 ? null : snapshot.objects().recording();
    for (int at = origin; at > 0; at = recording.parent()[at]) {
      frames.add(recording.frames().get(recording.frame()[at]).text());
    }
    return frames;
  }
}
