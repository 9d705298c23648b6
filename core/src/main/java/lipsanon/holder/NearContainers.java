package lipsanon.holder;

import java.io.IOException;
import java.util.HashMap;
import java.util.HashSet;
import java.util.Map;
import java.util.Set;
import lipsanon.array.IntList;
import lipsanon.index.Snapshot;
import lipsanon.label.Links;
import lipsanon.label.Ownership;

/**
 * In which tables, arrays and lists objects lie, a few references away: of things of one sort each
 * may lie in another one. One thread.
 */
public final class NearContainers {
  /** From an object over the links of a table's row to the table. */
  private static final int MOST_STEPS = 6;

  private static final int MOST_REFERRING = 8;

  /** What is looked at above one object. */
  private static final int MOST_ABOVE = 40;

  private final Snapshot snapshot;
  private final Climb climb;

  public NearContainers(Snapshot snapshot, Ownership ownership) {
    this.snapshot = snapshot;
    this.climb = new Climb(snapshot, new Links(snapshot), ownership);
  }

  /** What leads to some objects: by object above, how many of them. */
  public Map<Integer, Integer> counts(IntList members) {
    Map<Integer, Integer> counts = new HashMap<>();
    for (int m = 0; m < members.size(); m++) {
      above(members.get(m)).forEach(node -> counts.merge(node, 1, Integer::sum));
    }
    return counts;
  }

  /** Those of some objects to which a container leads. */
  public IntList in(int container, IntList members) {
    IntList in = new IntList();
    for (int m = 0; m < members.size(); m++) {
      if (above(members.get(m)).contains(container)) {
        in.add(members.get(m));
      }
    }
    return in;
  }

  private Set<Integer> above(int member) {
    Set<Integer> seen = new HashSet<>();
    IntList level = new IntList();
    level.add(member);
    for (int step = 0; step < MOST_STEPS && seen.size() < MOST_ABOVE; step++) {
      IntList next = new IntList();
      for (int i = 0; i < level.size(); i++) {
        step(level.get(i), seen, next);
      }
      level = next;
    }
    return seen;
  }

  /** By what stands in the index alone: who keeps firmly is asked of the few that are named. */
  private void step(int node, Set<Integer> seen, IntList next) {
    IntList referring = snapshot.inbound(node);
    for (int i = 0; i < Math.min(MOST_REFERRING, referring.size()); i++) {
      int from = referring.get(i);
      boolean holds = snapshot.depth(from) > 0 && !snapshot.classNodes().contains(from);
      // what an array is in leads to other things as well
      if (holds && seen.add(from) && !snapshot.types().get(snapshot.type(from)).array()) {
        next.add(from);
      }
    }
  }

  /** Who holds what a container has in it, in words. */
  public String name(int container) throws IOException {
    return climb.ofContents(container).names().get(0).text();
  }
}
