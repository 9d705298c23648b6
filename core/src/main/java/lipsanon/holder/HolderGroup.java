package lipsanon.holder;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Predicate;
import lipsanon.array.IntList;

/** Objects that refer to the set in one way, few and not one per member. */
final class HolderGroup {
  /** Of so few objects each is tried alone too. */
  static final int MOST_SPLIT = 4;

  /** By object: how many of the set it leads to, as far as was looked. */
  final Map<Integer, Integer> leads = new HashMap<>();

  final IntList nodes = new IntList();

  /** By object: which of the set it leads to, each by a way of its own, as far as was looked. */
  private final Map<Integer, BitSet> members = new HashMap<>();

  /** How many of the set the longest list has that one of the objects refers to; 0 if to none. */
  int reach;

  /** Leaves only some of the objects. */
  void retain(Predicate<Integer> which) {
    IntList some = new IntList();
    for (int i = 0; i < nodes.size(); i++) {
      if (which.test(nodes.get(i))) {
        some.add(nodes.get(i));
      }
    }
    nodes.clear();
    for (int i = 0; i < some.size(); i++) {
      nodes.add(some.get(i));
    }
    leads.keySet().removeIf(node -> !which.test(node));
  }

  /**
   * Notes a way to one of the set.
   *
   * @param member its place in the set
   */
  void lead(int node, int member) {
    leads.merge(node, 1, Integer::sum);
    members.computeIfAbsent(node, key -> new BitSet()).set(member);
  }

  /** How many of the set an object leads to, each counted once. */
  int distinct(int node) {
    BitSet all = members.get(node);
    return all == null ? 0 : all.cardinality();
  }

  /** Notes all that another group has found. */
  void addAll(HolderGroup other) {
    other.leads.forEach((node, count) -> leads.merge(node, count, Integer::sum));
    other.members.forEach(
        (node, all) -> members.computeIfAbsent(node, key -> new BitSet()).or(all));
    for (int i = 0; i < other.nodes.size(); i++) {
      nodes.add(other.nodes.get(i));
    }
  }

  /** Parts of one container are tried together; a few objects one by one as well. */
  List<HolderGroup> split() {
    List<HolderGroup> single = new ArrayList<>(List.of(this));
    if (nodes.size() > MOST_SPLIT || nodes.size() == 1) {
      return single;
    }
    for (int i = 0; i < nodes.size(); i++) {
      HolderGroup one = new HolderGroup();
      one.nodes.add(nodes.get(i));
      one.leads.put(nodes.get(i), leads.getOrDefault(nodes.get(i), 0));
      one.reach = reach;
      one.members.put(nodes.get(i), members.getOrDefault(nodes.get(i), new BitSet()));
      single.add(one);
    }
    return single;
  }

  int leadsTo() {
    int sum = 0;
    for (int count : leads.values()) {
      sum += count;
    }
    return sum;
  }

  /** What leads to most of the set comes first. */
  void mostFirst() {
    List<Integer> order = new ArrayList<>();
    for (int i = 0; i < nodes.size(); i++) {
      order.add(nodes.get(i));
    }
    order.sort(Comparator.comparingInt((Integer node) -> -leads.getOrDefault(node, 0)));
    nodes.clear();
    order.forEach(nodes::add);
  }
}
