package lipsanon.change;

import java.io.IOException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.regex.Pattern;
import lipsanon.array.IntList;
import lipsanon.holder.Finding;
import lipsanon.holder.Place;
import lipsanon.index.FieldValue;
import lipsanon.index.RootInfo;
import lipsanon.index.Snapshot;

/**
 * Tells threads that pile up from those of a pool that is not full yet: an executor starts one with
 * each task until it has as many as it may have, whether others are idle or not. Such a pool has a
 * limit, and its threads wait for work.
 */
final class ThreadPools {
  /** What a thread runs that waits for the next task of its pool. */
  private static final Pattern WAITING =
      Pattern.compile("\\bThreadPoolExecutor\\.getTask\\b|\\bQueuedThreadPool\\.idleJobPoll\\b");

  private static final String CORE = "corePoolSize";
  private static final Set<String> MOST = Set.of("maximumPoolSize", "_maxThreads");

  /** What a pool has for each of its threads. */
  private static final String WORKER = "ThreadPoolExecutor$Worker";

  private static final int MOST_FIELDS = 60;

  /** No limit that anybody would count with. */
  private static final int MOST_THREADS = 10_000;

  private static final double NEARLY_ALL = 0.9;

  /** Not one more in so many actions. */
  private static final int FEW = 2;

  /** Why something is no finding. */
  static final String FEW_THREADS =
      "comes with each thread of the runtime's, of which there are some more";

  private final Snapshot last;

  /** By thread that waits: its pool. */
  private final Map<Integer, Integer> pools = new HashMap<>();

  /** By pool: null where an object is none. */
  private final Map<Integer, Limits> limits = new HashMap<>();

  private final List<Filling> filling = new ArrayList<>();

  /**
   * Threads of a pool that fills: their type, by how many they grew, and why that is no finding.
   */
  private record Filling(String type, long more, String reason) {}

  /** A pool's sizes: it starts threads up to the first at once, up to the second where need be. */
  private record Limits(long core, long most) {
    long of(int threads) {
      return threads <= core ? core : most;
    }
  }

  ThreadPools(Snapshot last) throws IOException {
    this.last = last;
    for (RootInfo root : last.roots()) {
      if (root.thread() < 0 || !WAITING.matcher(root.detail()).find()) {
        continue;
      }
      if (!limits.containsKey(root.node())) {
        limits.put(root.node(), limits(root.node()));
      }
      if (limits.get(root.node()) != null) {
        pools.put(root.thread(), root.node());
      }
    }
  }

  /**
   * Whether something is what the runtime has for each thread, and far fewer came than there were
   * actions: a pool has started some threads more, as it does under load.
   */
  static boolean isOfFewThreads(Finding finding, Trend trend) {
    return finding.heldBy().equals(RootInfo.THREAD_LOCALS)
        && finding.reasons().contains(PileReport.ROOTS)
        && trend.exactPerAction() == 0
        && finding.countPerAction() > 0
        && finding.countPerAction() * FEW < 1;
  }

  /** Looks at a place that grows: whether it has the threads of a pool that fills. */
  void look(Place place) throws IOException {
    IntList threads = place.heads.get(place.heads.size() - 1);
    if (pools.isEmpty() || threads.isEmpty()) {
      return;
    }
    Map<Integer, Integer> counts = new HashMap<>();
    int most = -1;
    for (int i = 0; i < threads.size(); i++) {
      Integer pool = pools.get(threads.get(i));
      if (pool != null) {
        int count = counts.merge(pool, 1, Integer::sum);
        most = most < 0 || count > counts.get(most) ? pool : most;
      }
    }
    long more = Place.growth(place.counts);
    int count = most < 0 ? 0 : counts.get(most);
    if (count < 2 || count < NEARLY_ALL * more) {
      return;
    }
    long limit = limits.get(most).of(count);
    if (count <= limit && limit <= MOST_THREADS) {
      String reason =
          "threads of a pool that fills: "
              + count
              + " of at most "
              + limit
              + " so far, and they wait for work";
      filling.add(new Filling(place.type, more, reason));
    }
  }

  /**
   * Why something that grows is no finding: it is of a pool that fills, and grows with it.
   *
   * @param more by how many it grew
   * @return null if it is not
   */
  String reason(String type, long more) {
    for (Filling pool : filling) {
      if (pool.more == more && (pool.type.equals(type) || type.endsWith(WORKER))) {
        return pool.reason;
      }
    }
    return null;
  }

  /** Null if an object is no pool. */
  private Limits limits(int node) throws IOException {
    long core = -1;
    long most = -1;
    for (FieldValue field : last.objects().fields(node, MOST_FIELDS)) {
      if (field.via().name().equals(CORE)) {
        core = number(field.value());
      } else if (MOST.contains(field.via().name())) {
        most = number(field.value());
      }
    }
    return most < 0 ? null : new Limits(core, most);
  }

  private static long number(String value) {
    try {
      return Long.parseLong(value);
    } catch (NumberFormatException e) {
      return -1;
    }
  }
}
