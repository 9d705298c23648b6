package lipsanon.change;

import java.util.List;

/**
 * Something that was counted in each snapshot of a series.
 *
 * @param what is counted, in words
 * @param id identifier of the object that it is about, or ""
 * @param heldBy what holds it, or ""
 * @param counts by snapshot
 */
public record Series(String what, String id, String heldBy, List<Long> counts) {
  /** The last count less the first. */
  public long growth() {
    return counts.get(counts.size() - 1) - counts.get(0);
  }

  /** Whether it never falls, and rises from first to last. */
  boolean rises() {
    for (int i = 1; i < counts.size(); i++) {
      if (counts.get(i) < counts.get(i - 1)) {
        return false;
      }
    }
    return growth() > 0;
  }
}
