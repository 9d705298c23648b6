package lipsanon.question;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import lipsanon.index.Pile;
import lipsanon.index.Snapshot;

/**
 * Piles of one type in several places below the same object, none of which is large: a table for
 * each of a few names.
 */
final class JoinedPiles {
  private JoinedPiles() {}

  /**
   * For each type the lowest object below which its piles retain so much together.
   *
   * @param leastPlaces of so many piles at least
   * @param highest how far above a pile's place what joins it with others may stand
   */
  static List<Pile> of(Snapshot snapshot, double leastBytes, int leastPlaces, int highest) {
    Map<Integer, List<Pile>> byType = new LinkedHashMap<>();
    for (Pile pile : snapshot.piles()) {
      byType.computeIfAbsent(pile.type(), key -> new ArrayList<>()).add(pile);
    }
    List<Pile> joined = new ArrayList<>();
    for (List<Pile> alike : byType.values()) {
      Pile found =
          alike.size() < leastPlaces
              ? null
              : join(snapshot, alike, leastBytes, leastPlaces, highest);
      if (found != null) {
        joined.add(found);
      }
    }
    return joined;
  }

  private static Pile join(
      Snapshot snapshot, List<Pile> alike, double leastBytes, int leastPlaces, int highest) {
    int[] above = alike.stream().mapToInt(Pile::holder).toArray();
    for (int step = 0; step < highest; step++) {
      Map<Integer, List<Pile>> together = new HashMap<>();
      for (int i = 0; i < above.length; i++) {
        above[i] = above[i] < 0 ? -1 : snapshot.dominator(above[i]);
        if (above[i] >= 0) {
          together.computeIfAbsent(above[i], key -> new ArrayList<>()).add(alike.get(i));
        }
      }
      Pile largest = null;
      for (Map.Entry<Integer, List<Pile>> entry : together.entrySet()) {
        List<Pile> piles = entry.getValue();
        long bytes = piles.stream().mapToLong(Pile::bytes).sum();
        long known = largest == null ? 0 : largest.bytes();
        if (piles.size() >= leastPlaces && bytes >= leastBytes && bytes > known) {
          Pile first = piles.get(0);
          long count = piles.stream().mapToLong(Pile::count).sum();
          largest = new Pile(entry.getKey(), first.type(), count, bytes, first.example());
        }
      }
      if (largest != null) {
        return largest;
      }
    }
    return null;
  }
}
