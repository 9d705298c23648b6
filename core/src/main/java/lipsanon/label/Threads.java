package lipsanon.label;

import java.io.IOException;
import java.util.HashMap;
import java.util.Map;
import lipsanon.array.IntList;
import lipsanon.index.RootInfo;
import lipsanon.index.Snapshot;

/** Says what threads run, from the frames of their local variables. */
public final class Threads {
  private Threads() {}

  /**
   * What most of some threads run.
   *
   * @return the outermost method that is no library's, else "" or the threads' common name
   */
  public static String runs(Snapshot snapshot, IntList threads) throws IOException {
    Map<Integer, String> outermost = new HashMap<>();
    Ownership ownership = new Ownership(snapshot, TypeFilter.ALL);
    for (RootInfo root : snapshot.roots()) {
      boolean own = root.thread() >= 0 && ownership.ofMethod(root.detail()) == Ownership.Whose.OWN;
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
    String most =
        counts.entrySet().stream()
            .max(Map.Entry.comparingByValue())
            .map(Map.Entry::getKey)
            .orElse("");
    if (!most.isEmpty()) {
      return most;
    }
    String name = Labels.of(snapshot, threads.get(0)).replaceAll("[0-9]+", "#");
    return name.isEmpty() ? "" : "threads called " + name;
  }
}
