package lipsanon.holder;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import lipsanon.array.IntList;
import lipsanon.array.LongIntMap;

/**
 * Links of lists that are gone through, each once, and what refers to them from outside. Links that
 * refer to each other are one list: whoever refers to one of them leads to all objects that the
 * list leads to, though only by a single reference.
 */
final class ChainEntries {
  private final int most;

  /** By link: one of the set that it leads to. */
  private final LongIntMap members = new LongIntMap();

  /** By link: the number of its list. */
  private final LongIntMap lists = new LongIntMap();

  /** By list: another one that it was joined with, or itself. */
  private final IntList joined = new IntList();

  /** By list: how many of its links were come upon from the set. */
  private final IntList sizes = new IntList();

  private final Map<String, HolderGroup> groups = new LinkedHashMap<>();
  private final List<Entry> entries = new ArrayList<>();
  private int count;

  private record Entry(HolderGroup group, int from, int link) {}

  /**
   * Nothing yet.
   *
   * @param most links that are gone through
   */
  ChainEntries(int most) {
    this.most = most;
  }

  boolean has(int node) {
    return members.get(node) >= 0;
  }

  /** One of the set that a link leads to. */
  int member(int link) {
    return members.get(link);
  }

  /** Kinds of references from outside so far. */
  int entries() {
    return groups.size();
  }

  /** Notes a link that was come upon from the set; false if there are too many. */
  boolean begin(int node, int member) {
    int known = lists.get(node);
    if (known >= 0) {
      int list = find(known);
      sizes.set(list, sizes.get(list) + 1);
      return true;
    }
    if (count >= most) {
      return false;
    }
    count++;
    members.put(node, member);
    lists.put(node, joined.size());
    joined.add(joined.size());
    sizes.add(1);
    return true;
  }

  /** Notes a link that refers to another; whether it is a new one. */
  boolean link(int from, int to) {
    int list = find(lists.get(to));
    int known = lists.get(from);
    if (known >= 0) {
      int other = find(known);
      if (other != list) {
        joined.set(other, list);
        sizes.set(list, sizes.get(list) + sizes.get(other));
      }
      return false;
    }
    if (count >= most) {
      return false;
    }
    count++;
    members.put(from, members.get(to));
    lists.put(from, list);
    return true;
  }

  /** Notes that something else refers to a link. */
  void enter(String key, int from, int link) {
    HolderGroup group = groups.computeIfAbsent(key, k -> new HolderGroup());
    if (group.leads.merge(from, 1, Integer::sum) == 1) {
      group.nodes.add(from);
    }
    entries.add(new Entry(group, from, link));
  }

  /** What refers to links from outside, but for lists that are much shorter than others. */
  Map<String, HolderGroup> groups() {
    Map<Integer, Integer> reach = new HashMap<>();
    for (Entry entry : entries) {
      int size = sizes.get(find(lists.get(entry.link)));
      reach.merge(entry.from, size, Math::max);
      entry.group.reach = Math.max(entry.group.reach, size);
    }
    for (HolderGroup group : groups.values()) {
      group.retain(node -> reach.get(node) * SeveralHolders.NEGLIGIBLE >= group.reach);
    }
    return groups;
  }

  private int find(int list) {
    int top = list;
    while (joined.get(top) != top) {
      top = joined.get(top);
    }
    int at = list;
    while (joined.get(at) != top) {
      int next = joined.get(at);
      joined.set(at, top);
      at = next;
    }
    return top;
  }
}
