package lipsanon.label;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import lipsanon.index.Packages;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;

/** What was taken for the user's own code in a snapshot, in words. */
public final class OwnCode {
  private static final int MOST = 3;

  private OwnCode() {}

  /**
   * The packages of the user's own types, comma-separated, as {@code --mine} takes them.
   *
   * @return "" if types have no packages, or nothing is known
   */
  public static String packages(Snapshot snapshot) {
    return String.join(",", stems(snapshot).keySet());
  }

  /** How many types of which packages were taken for own, and how to say otherwise; or "". */
  public static String told(Snapshot snapshot) {
    Map<String, Integer> stems = stems(snapshot);
    boolean classes = false;
    for (TypeInfo type : snapshot.types()) {
      classes |= type.classNode() >= 0;
    }
    if (snapshot.facts().runtime().equals(".NET")) {
      return "Taken for your own code: types outside System, Microsoft, Internal and the program's"
          + " packages; --mine names others.";
    }
    if (!classes) {
      return "Taken for your own code: scripts outside node_modules; --mine names other types.";
    }
    if (stems.isEmpty()) {
      return "";
    }
    List<String> parts = new ArrayList<>();
    stems.forEach((stem, count) -> parts.add(stem + " (" + count + " types)"));
    return "Taken for your own code: " + String.join(", ", parts) + "; --mine names others.";
  }

  /** The packages with most own types, each with how many. */
  private static Map<String, Integer> stems(Snapshot snapshot) {
    Map<String, Integer> counts = new TreeMap<>();
    for (TypeInfo type : snapshot.types()) {
      boolean own = !type.library() && !type.foreign() && !type.array();
      int end = type.name().lastIndexOf('.');
      if (own && end > 0 && type.classNode() >= 0) {
        counts.merge(Packages.stem(type.name()), 1, Integer::sum);
      }
    }
    List<Map.Entry<String, Integer>> sorted = new ArrayList<>(counts.entrySet());
    sorted.sort(Map.Entry.<String, Integer>comparingByValue().reversed());
    Map<String, Integer> most = new java.util.LinkedHashMap<>();
    for (Map.Entry<String, Integer> entry : sorted.subList(0, Math.min(MOST, sorted.size()))) {
      most.put(entry.getKey(), entry.getValue());
    }
    return most;
  }
}
