package lipsanon.label;

import java.io.IOException;
import java.util.HashMap;
import java.util.Map;
import lipsanon.array.IntList;
import lipsanon.index.RootInfo;
import lipsanon.index.Snapshot;

/** Says what threads run, from the frames of their local variables. */
public final class Threads {
  /** How the classes of threads end of which there may be a million. */
  private static final String VIRTUAL = "VirtualThread";

  /** What threads that are told by what they run alone are called, before the method. */
  public static final String RUNNING = "running threads in ";

  /** How threads are told in any way, by what they run or by their names, virtual ones too. */
  public static final String ANY_RUNNING = "running ";

  private Threads() {}

  /**
   * What most of some threads run.
   *
   * @return the outermost method that is no library's, or ""
   */
  public static String runs(Snapshot snapshot, IntList threads) throws IOException {
    Map<Integer, String> outermost = new HashMap<>();
    Ownership ownership = new Ownership(snapshot, TypeFilter.ALL);
    for (RootInfo root : snapshot.roots()) {
      // what a lambda runs is told by the method that it was made of
      boolean own =
          root.thread() >= 0
              && !root.detail().contains("$$Lambda")
              && ownership.ofMethod(root.detail()) == Ownership.Whose.OWN;
      if (own) {
        // frames come innermost first: the last one is the outermost
        outermost.put(root.thread(), root.detail());
      }
    }
    Map<String, Integer> counts = new HashMap<>();
    for (int i = 0; i < threads.size(); i++) {
      String method = outermost.get(threads.get(i));
      if (method != null) {
        counts.merge(method, 1, Integer::sum);
      }
    }
    return counts.entrySet().stream()
        .max(Map.Entry.comparingByValue())
        .map(Map.Entry::getKey)
        .orElse("");
  }

  /** Some threads in words: what they run, else what they are called. */
  public static String described(Snapshot snapshot, IntList threads) throws IOException {
    String runs = runs(snapshot, threads);
    String name = family(snapshot, threads.get(0));
    String called = name.isEmpty() ? "" : " called " + name;
    String running = "running " + noun(snapshot, threads.get(0));
    return running + (runs.isEmpty() ? called : " in " + runs);
  }

  /** What threads like one are: those that the operating system knows of, or virtual ones. */
  public static String noun(Snapshot snapshot, int thread) {
    return snapshot.typeName(thread).endsWith(VIRTUAL) ? "virtual threads" : "threads";
  }

  /**
   * What a thread is called, without the numbers that tell it from others of its kind; "" where
   * names are hidden.
   */
  public static String family(Snapshot snapshot, int thread) throws IOException {
    return name(snapshot, thread).replaceAll("[0-9]+", "#");
  }

  /**
   * What a thread is called; "" if it has no name, as virtual ones mostly, and where names are
   * hidden, since each would be a holder of its own.
   */
  public static String name(Snapshot snapshot, int thread) throws IOException {
    String label = Labels.of(snapshot, thread);
    return label.startsWith("\"") ? label : "";
  }
}
