package lipsanon.format.elfcore;

import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import lipsanon.index.ObjectReader.Entries;
import lipsanon.index.ObjectReader.Entry;
import lipsanon.index.Snapshot;

/** Reads the collections of .NET's core library as the entries that their users see. */
final class LibraryCollections {
  private static final int LONGEST_CHAIN = 1 << 20;

  private final CoreObjects objects;
  private final Snapshot snapshot;
  private final int atMost;
  private final List<Entry> entries = new ArrayList<>();

  LibraryCollections(CoreObjects objects, Snapshot snapshot, int atMost) {
    this.objects = objects;
    this.snapshot = snapshot;
    this.atMost = atMost;
  }

  Entries entries(int node) throws IOException {
    String name = snapshot.typeName(node);
    int arguments = name.indexOf('<');
    String plain = arguments < 0 ? name : name.substring(0, arguments);
    switch (plain) {
      case "System.Collections.Generic.List",
          "System.Collections.ArrayList",
          "System.Collections.Generic.Stack",
          "System.Collections.Stack" -> {
        int array = objects.target(node, plain.endsWith("Stack") ? "_array" : "_items");
        long size = objects.number(node, "_size");
        for (long i = 0; i < size && !full(); i++) {
          element(array, i, "");
        }
        return new Entries(size, entries);
      }
      case "System.Collections.Generic.Queue", "System.Collections.Queue" -> {
        int array = objects.target(node, "_array");
        long size = objects.number(node, "_size");
        long head = objects.number(node, "_head");
        long room = objects.count(array);
        for (long i = 0; i < size && !full() && room > 0; i++) {
          element(array, (head + i) % room, "");
        }
        return new Entries(size, entries);
      }
      case "System.Collections.Generic.Dictionary" -> {
        return table(node, "next", "key", "value");
      }
      case "System.Collections.Generic.HashSet" -> {
        return table(node, "Next", "", "Value");
      }
      case "System.Collections.Hashtable" -> {
        int buckets = objects.target(node, "_buckets");
        for (long i = 0; i < objects.count(buckets) && !full(); i++) {
          long at = objects.elementAt(buckets, i);
          int key = objects.at(at + Math.max(0, objects.elementOffset(buckets, "key")));
          if (key >= 0 && key != buckets) {
            int value = objects.at(at + Math.max(0, objects.elementOffset(buckets, "val")));
            entries.add(new Entry(key, value));
          }
        }
        return new Entries(objects.number(node, "_count"), entries);
      }
      case "System.Collections.Generic.LinkedList" -> {
        return chain(objects.target(node, "head"), "item", "next", objects.number(node, "count"));
      }
      case "System.Collections.Concurrent.ConcurrentStack" -> {
        return chain(objects.target(node, "_head"), "_value", "_next", -1);
      }
      case "System.Collections.Generic.SortedDictionary" -> {
        int set = objects.target(node, "_set");
        return set < 0
            ? null
            : tree(
                objects.target(set, "root"), "Item", objects.number(set, "count"), "Left", "Right");
      }
      case "System.Collections.Generic.SortedSet" -> {
        return tree(
            objects.target(node, "root"), "Item", objects.number(node, "count"), "Left", "Right");
      }
      case "System.Collections.Generic.SortedList", "System.Collections.SortedList" -> {
        int keys = objects.target(node, "keys");
        int values = objects.target(node, "values");
        long size = objects.number(node, "_size");
        for (long i = 0; i < size && !full(); i++) {
          entries.add(entry(objects.inElement(keys, i, ""), objects.inElement(values, i, "")));
        }
        return new Entries(size, entries);
      }
      case "System.Collections.Concurrent.ConcurrentDictionary" -> {
        return concurrent(node);
      }
      case "System.Collections.Concurrent.ConcurrentQueue" -> {
        return segments(node);
      }
      case "System.Collections.Concurrent.ConcurrentBag" -> {
        return bag(node);
      }
      case "System.Collections.Immutable.ImmutableList" -> {
        int root = objects.target(node, "_root");
        return root < 0
            ? null
            : tree(root, "_key", objects.number(root, "_count"), "_left", "_right");
      }
      case "System.Collections.Immutable.ImmutableDictionary" -> {
        return tree(
            objects.target(node, "_root"),
            "_value._firstValue",
            objects.number(node, "_count"),
            "_left",
            "_right");
      }
      default -> {
        return null;
      }
    }
  }

  private boolean full() {
    return entries.size() >= atMost;
  }

  private static Entry entry(CoreObjects.Value key, CoreObjects.Value value) {
    return new Entry(key.node(), value.node(), key.text(), value.text());
  }

  private void element(int array, long index, String field) throws IOException {
    CoreObjects.Value value = objects.inElement(array, index, field);
    entries.add(new Entry(-1, value.node(), null, value.text()));
  }

  /**
   * An array of structures in which each live entry leads to the next of its bucket, or to none.
   */
  private Entries table(int node, String next, String key, String value) throws IOException {
    int array = objects.target(node, "_entries");
    long used = objects.number(node, "_count");
    long free = Math.max(0, objects.number(node, "_freeCount"));
    long offset = array < 0 ? -1 : objects.elementOffset(array, next);
    for (long i = 0; i < used && i < objects.count(array) && !full() && offset >= 0; i++) {
      if (objects.numberAt(objects.elementAt(array, i) + offset) < -1) {
        continue;
      }
      if (key.isEmpty()) {
        element(array, i, value);
      } else {
        entries.add(entry(objects.inElement(array, i, key), objects.inElement(array, i, value)));
      }
    }
    return new Entries(used - free, entries);
  }

  private Entries chain(int first, String item, String next, long size) throws IOException {
    int at = first;
    int steps = 0;
    while (at >= 0 && !full() && steps < LONGEST_CHAIN) {
      CoreObjects.Value value = objects.inObject(at, item);
      entries.add(new Entry(-1, value.node(), null, value.text()));
      at = objects.target(at, next);
      steps++;
      if (at == first) {
        break;
      }
    }
    return new Entries(size < 0 && !full() ? entries.size() : size, entries);
  }

  /** A binary tree, in order; of pairs, where the items have a key. */
  private Entries tree(int root, String item, long size, String left, String right)
      throws IOException {
    boolean immutable = left.equals("_left");
    List<Integer> stack = new ArrayList<>();
    int at = root;
    int steps = 0;
    while ((at >= 0 || !stack.isEmpty()) && !full() && steps++ < LONGEST_CHAIN) {
      while (at >= 0 && stack.size() < 64) {
        stack.add(at);
        at = objects.target(at, left);
      }
      if (stack.isEmpty()) {
        break;
      }
      int node = stack.remove(stack.size() - 1);
      if (immutable && isEmptyLeaf(node)) {
        continue;
      }
      CoreObjects.Value key = objects.inObject(node, item + ".key");
      if (key.there()) {
        entries.add(entry(key, objects.inObject(node, item + ".value")));
      } else {
        CoreObjects.Value value = objects.inObject(node, item);
        if (value.node() >= 0 || value.text() != null) {
          entries.add(new Entry(-1, value.node(), null, value.text()));
        }
      }
      at = objects.target(node, right);
    }
    return new Entries(size, entries);
  }

  /** The end of a branch is a node that stands for nothing; the others always have two branches. */
  private boolean isEmptyLeaf(int node) throws IOException {
    return objects.target(node, "_left") < 0 && objects.target(node, "_right") < 0;
  }

  private Entries concurrent(int node) throws IOException {
    int tables = objects.target(node, "_tables");
    int buckets = tables < 0 ? -1 : objects.target(tables, "_buckets");
    long steps = 0;
    for (long i = 0; i < objects.count(buckets) && !full(); i++) {
      int at = objects.inElement(buckets, i, "_node").node();
      at = at < 0 ? objects.inElement(buckets, i, "").node() : at;
      while (at >= 0 && !full() && steps++ < LONGEST_CHAIN) {
        entries.add(entry(objects.inObject(at, "_key"), objects.inObject(at, "_value")));
        at = objects.target(at, "_next");
      }
    }
    return new Entries(full() ? -1 : entries.size(), entries);
  }

  private Entries segments(int queue) throws IOException {
    int segment = objects.target(queue, "_head");
    for (int s = 0; segment >= 0 && s < LONGEST_CHAIN && !full(); s++) {
      int slots = objects.target(segment, "_slots");
      for (long i = 0; i < objects.count(slots) && !full(); i++) {
        CoreObjects.Value value = objects.inElement(slots, i, "Item");
        if (value.node() >= 0) {
          entries.add(new Entry(-1, value.node()));
        }
      }
      segment = objects.target(segment, "_nextSegment");
    }
    return new Entries(full() ? -1 : entries.size(), entries);
  }

  private Entries bag(int node) throws IOException {
    int queue = objects.target(node, "_workStealingQueues");
    for (int q = 0; queue >= 0 && q < LONGEST_CHAIN && !full(); q++) {
      int array = objects.target(queue, "_array");
      long room = objects.count(array);
      long head = objects.number(queue, "_headIndex");
      long tail = objects.number(queue, "_tailIndex");
      for (long i = head; i < tail && room > 0 && !full(); i++) {
        element(array, i % room, "");
      }
      queue = objects.target(queue, "_nextQueue");
    }
    return new Entries(full() ? -1 : entries.size(), entries);
  }
}
