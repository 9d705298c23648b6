package lipsanon.select;

import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Locale;
import java.util.TreeMap;

/** Names that are written much like one that does not exist. */
final class Near {
  private static final int MOST = 3;
  private static final int LONGEST = 64;

  private Near() {}

  /** The nearest ones, the nearest first. */
  static List<String> of(String name, Collection<String> names) {
    String wanted = simple(name).toLowerCase(Locale.ROOT);
    TreeMap<Integer, List<String>> byDistance = new TreeMap<>();
    for (String other : names) {
      int distance = distance(wanted, simple(other).toLowerCase(Locale.ROOT));
      if (distance <= Math.max(1, wanted.length() / 3)) {
        byDistance.computeIfAbsent(distance, key -> new ArrayList<>()).add(other);
      }
    }
    List<String> near = new ArrayList<>();
    byDistance.values().forEach(near::addAll);
    return near.subList(0, Math.min(MOST, near.size()));
  }

  private static String simple(String name) {
    return name.substring(Math.max(name.lastIndexOf('.'), name.lastIndexOf('$')) + 1);
  }

  /** How many letters to change, add or leave out (V. Levenshtein 1965); long names are cut. */
  private static int distance(String a, String b) {
    if (Math.abs(a.length() - b.length()) > LONGEST / 4
        || a.length() > LONGEST
        || b.length() > LONGEST) {
      return LONGEST;
    }
    int[] row = new int[b.length() + 1];
    for (int j = 0; j <= b.length(); j++) {
      row[j] = j;
    }
    for (int i = 1; i <= a.length(); i++) {
      int diagonal = row[0];
      row[0] = i;
      for (int j = 1; j <= b.length(); j++) {
        int above = row[j];
        int change = diagonal + (a.charAt(i - 1) == b.charAt(j - 1) ? 0 : 1);
        row[j] = Math.min(Math.min(above, row[j - 1]) + 1, change);
        diagonal = above;
      }
    }
    return row[b.length()];
  }
}
