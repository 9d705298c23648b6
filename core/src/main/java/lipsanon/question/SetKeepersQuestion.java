package lipsanon.question;

import java.io.IOException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import lipsanon.array.IntList;
import lipsanon.array.LongIntMap;
import lipsanon.array.Ranks;
import lipsanon.index.Snapshot;
import lipsanon.index.Via;
import lipsanon.label.Families;
import lipsanon.label.Labels;
import lipsanon.label.SnapshotSummary;
import lipsanon.label.TypeFilter;
import lipsanon.select.SetSize;

/**
 * Who must go so that a set goes: the part of the dominator tree above its members, read from the
 * roots down or from the set up, objects of one place merged. Each object above is visited once.
 */
public final class SetKeepersQuestion {
  private static final int DEEPEST = 40;

  /** What frees this share of the set is a row of its own, and not merged with others like it. */
  private static final double OF_ITS_OWN = 0.1;

  /** From so many objects on a level is merged by type, and only some say how they are held. */
  private static final int MANY = 20_000;

  private static final int SAMPLE = 50;

  private final Snapshot snapshot;
  private final BitSet set;
  private final int limit;

  // the objects above the set and the set itself, by a number of their own
  private final BitSet above = new BitSet();
  private Ranks ranks;
  private int[] nodes;
  private int[] parent;
  private int[] frees;
  private int[] firstChild;
  private int[] children;

  private SetKeepersQuestion(Snapshot snapshot, BitSet set, int limit) {
    this.snapshot = snapshot;
    this.set = set;
    this.limit = limit;
  }

  /**
   * Answers.
   *
   * @param up from the set towards the roots, else from the roots down
   * @param limit rows at most
   */
  public static SetKeepersAnswer ask(
      Snapshot snapshot, BitSet set, String selection, boolean up, int limit) throws IOException {
    return new SetKeepersQuestion(snapshot, set, limit).answer(selection, up);
  }

  private SetKeepersAnswer answer(String selection, boolean up) throws IOException {
    long unretained = 0;
    BitSet sides = new BitSet();
    for (int n = set.nextSetBit(0); n >= 0; n = set.nextSetBit(n + 1)) {
      if (snapshot.depth(n) == 0) {
        unretained++;
        continue;
      }
      add(n);
      if (snapshot.dominator(n) < 0 && snapshot.depth(n) > 1) {
        sides.set(n);
      }
    }
    number();
    count();
    Tree tree = new Tree(up);
    List<RefsAnswer.Row> ways =
        sides.isEmpty()
            ? List.of()
            : RefsQuestion.ask(
                    snapshot,
                    sides,
                    new RefsQuestion.Options(
                        selection, true, false, false, 1, false, 5, TypeFilter.ALL))
                .levels()
                .get(0)
                .rows();
    return new SetKeepersAnswer(
        SnapshotSummary.of(snapshot),
        selection,
        up ? "up" : "down",
        set.cardinality(),
        unretained,
        SetSize.bytes(snapshot, set),
        tree.rows(),
        tree.left,
        sides.cardinality(),
        ways);
  }

  /** Notes an object with all that dominates it. */
  private void add(int node) {
    for (int at = node; at >= 0 && !above.get(at); at = snapshot.dominator(at)) {
      above.set(at);
    }
  }

  private void number() {
    ranks = new Ranks(above);
    nodes = above.stream().toArray();
    parent = new int[nodes.length];
    for (int i = 0; i < nodes.length; i++) {
      int dominator = snapshot.dominator(nodes[i]);
      parent[i] = dominator < 0 ? -1 : ranks.rank(dominator);
    }
  }

  private void count() {
    int size = nodes.length;
    // a dominator is never as deep as what it dominates
    long[] order = new long[size];
    for (int i = 0; i < size; i++) {
      order[i] = (long) snapshot.depth(nodes[i]) << 32 | i;
    }
    Arrays.parallelSort(order);
    frees = new int[size];
    firstChild = new int[size + 2];
    for (int k = size - 1; k >= 0; k--) {
      int i = (int) order[k];
      frees[i] += set.get(nodes[i]) ? 1 : 0;
      if (parent[i] >= 0) {
        frees[parent[i]] += frees[i];
      }
      firstChild[parent[i] + 2]++;
    }
    for (int i = 1; i < firstChild.length; i++) {
      firstChild[i] += firstChild[i - 1];
    }
    children = new int[size];
    int[] next = firstChild.clone();
    for (int i = 0; i < size; i++) {
      children[next[parent[i] + 1]++] = i;
    }
  }

  /** Objects of one place. */
  private static final class Group {
    final String place;
    final String type;
    final IntList objects = new IntList();

    /** By object when going up: how many members it is above. */
    final IntList weights = new IntList();

    long frees;

    Group(String place, String type) {
      this.place = place;
      this.type = type;
    }

    /** The same, held in a way that is known only now. */
    Group at(String known) {
      Group group = new Group(known, type);
      for (int k = 0; k < objects.size(); k++) {
        group.objects.add(objects.get(k));
        group.weights.add(weights.get(k));
      }
      group.frees = frees;
      return group;
    }
  }

  /** The merged tree. */
  private final class Tree {
    private final boolean up;
    private final List<SetKeepersAnswer.Row> rows = new ArrayList<>();
    private final int total;
    private final String[] families = new String[snapshot.types().size()];
    long left;

    Tree(boolean up) {
      this.up = up;
      int sum = 0;
      for (int i = 0; i < nodes.length; i++) {
        sum += set.get(nodes[i]) ? 1 : 0;
      }
      this.total = Math.max(1, sum);
    }

    List<SetKeepersAnswer.Row> rows() throws IOException {
      Group start = new Group("", "");
      for (int i = 0; i < nodes.length; i++) {
        if (up ? set.get(nodes[i]) : parent[i] < 0) {
          start.objects.add(i);
          start.weights.add(up ? 1 : frees[i]);
        }
      }
      expand(groups(start), 0, limit);
      return rows;
    }

    /** Rows for groups and what is next to them: the larger part of the room for the larger. */
    private void expand(List<Group> groups, int level, int room) throws IOException {
      int leftRoom = room;
      for (int i = 0; i < groups.size(); i++) {
        Group group = groups.get(i);
        if (leftRoom <= 0 || level > DEEPEST) {
          left += groups.size() - i;
          return;
        }
        rows.add(row(group, level));
        leftRoom--;
        int before = rows.size();
        long rest = 0;
        for (int k = i; k < groups.size(); k++) {
          rest += groups.get(k).frees;
        }
        int share = (int) Math.ceil(leftRoom * (group.frees / (double) Math.max(1, rest)));
        expand(groups(nextOf(group)), level + 1, Math.min(share, leftRoom));
        leftRoom -= rows.size() - before;
      }
    }

    /** The objects below a group, or above it. Runs of one place are passed at once. */
    private Group nextOf(Group group) {
      Group next = new Group(group.place, group.type);
      for (int k = 0; k < group.objects.size(); k++) {
        int i = group.objects.get(k);
        if (up) {
          if (parent[i] >= 0) {
            next.objects.add(parent[i]);
            next.weights.add(group.weights.get(k));
          }
        } else {
          for (int c = firstChild[i + 1]; c < firstChild[i + 2]; c++) {
            next.objects.add(children[c]);
            next.weights.add(frees[children[c]]);
          }
        }
      }
      return next;
    }

    private List<Group> groups(Group from) throws IOException {
      Map<String, Group> merged = new HashMap<>();
      // several objects may have one above them
      LongIntMap weightOf = new LongIntMap();
      IntList pending = new IntList();
      for (int k = 0; k < from.objects.size(); k++) {
        int known = weightOf.get(from.objects.get(k));
        if (known < 0) {
          pending.add(from.objects.get(k));
        }
        weightOf.put(from.objects.get(k), Math.max(0, known) + from.weights.get(k));
      }
      Group at = from;
      // of very many only some are asked how they are held
      boolean many = pending.size() > MANY;
      int guard = nodes.length + 1;
      while (!pending.isEmpty() && guard-- > 0) {
        int i = pending.removeLast();
        int weight = weightOf.get(i);
        String type = family(nodes[i]);
        String place = many ? "" : place(i);
        boolean like =
            (many || place.equals(at.place)) && type.equals(at.type) && !set.get(nodes[i]);
        if (like) {
          // a further link of a chain: what is next to it is meant
          Group link = new Group(place, type);
          link.objects.add(i);
          link.weights.add(weight);
          Group next = nextOf(link);
          for (int k = 0; k < next.objects.size(); k++) {
            int other = next.objects.get(k);
            int known = weightOf.get(other);
            weightOf.put(other, Math.max(0, known) + next.weights.get(k));
            if (known < 0) {
              pending.add(other);
            }
          }
          continue;
        }
        boolean alone = weight >= OF_ITS_OWN * total && !(set.get(nodes[i]) && weight == 1);
        String key = many && !alone ? type : place + "\n" + type + (alone ? "\n" + i : "");
        Group group = merged.get(key);
        if (group == null) {
          group = new Group(place, type);
          merged.put(key, group);
        }
        group.objects.add(i);
        group.weights.add(weight);
        group.frees += weight;
      }
      List<Group> groups = new ArrayList<>();
      for (Group group : merged.values()) {
        groups.add(many ? group.at(places(group)) : group);
      }
      groups.sort(
          Comparator.comparingLong((Group group) -> -group.frees)
              .thenComparing(group -> group.place));
      return groups;
    }

    private String family(int node) {
      int type = snapshot.type(node);
      if (families[type] == null) {
        families[type] = Families.of(snapshot.types().get(type).name());
      }
      return families[type];
    }

    /** How some objects of a large group are held, each way once. */
    private String places(Group group) throws IOException {
      java.util.Set<String> places = new java.util.LinkedHashSet<>();
      int every = Math.max(1, group.objects.size() / SAMPLE);
      for (int k = 0; k < group.objects.size(); k += every) {
        places.add(place(group.objects.get(k)));
      }
      List<String> some = new ArrayList<>(places);
      return some.size() <= 2
          ? String.join(", ", some)
          : some.get(0) + ", " + some.get(1) + " and others";
    }

    private String place(int i) throws IOException {
      int node = nodes[i];
      int above = snapshot.dominator(node);
      if (above < 0) {
        String root = Labels.rootText(snapshot, node);
        return root.isEmpty() ? "held from several sides" : "root: " + root;
      }
      Via via = snapshot.objects().viaTo(above, node);
      if (via == null) {
        return "held in several ways";
      }
      return via.kind() == Via.Kind.ELEMENT ? "element" : via.group();
    }

    private SetKeepersAnswer.Row row(Group group, int level) throws IOException {
      int best = 0;
      long retained = 0;
      long members = 0;
      for (int k = 0; k < group.objects.size(); k++) {
        int node = nodes[group.objects.get(k)];
        retained += snapshot.retainedBytes(node);
        members += set.get(node) ? 1 : 0;
        if (group.weights.get(k) > group.weights.get(best)) {
          best = k;
        }
      }
      int node = nodes[group.objects.get(best)];
      boolean one = group.objects.size() == 1;
      return new SetKeepersAnswer.Row(
          level,
          group.place,
          group.type,
          one ? Labels.of(snapshot, node) : "",
          snapshot.id(node),
          group.objects.size(),
          group.frees,
          group.frees / (double) total,
          retained,
          members);
    }
  }
}
