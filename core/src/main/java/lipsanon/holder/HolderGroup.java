package lipsanon.holder;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import lipsanon.array.IntList;

/** Objects that refer to the set in one way, few and not one per member. */
final class HolderGroup {
  /** Of so few objects each is tried alone too. */
  static final int MOST_SPLIT = 4;

  /** By object: how many of the set it leads to, as far as was looked. */
  final Map<Integer, Integer> leads = new HashMap<>();

  final IntList nodes = new IntList();

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
