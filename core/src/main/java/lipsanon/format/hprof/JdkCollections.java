package lipsanon.format.hprof;

import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import lipsanon.index.ObjectReader.Entries;
import lipsanon.index.ObjectReader.Entry;
import lipsanon.index.Snapshot;

/** Reads the JDK's standard collections and maps as the entries that their users see. */
final class JdkCollections {
  private static final int DEEPEST_WRAPPING = 8;

  private final HprofDetail detail;
  private final Snapshot snapshot;
  private final List<Entry> entries = new ArrayList<>();
  private int atMost;

  JdkCollections(HprofDetail detail, Snapshot snapshot) {
    this.detail = detail;
    this.snapshot = snapshot;
  }

  Entries entries(int node, int atMost) throws IOException {
    this.atMost = atMost;
    return open(node, 0);
  }

  private Entries open(int node, int wrapping) throws IOException {
    if (node < 0 || wrapping > DEEPEST_WRAPPING) {
      return null;
    }
    String name = snapshot.typeName(node);
    switch (name) {
      case "java.util.ArrayList", "java.util.Vector", "java.util.Stack" -> {
        String count = name.endsWith("ArrayList") ? "size" : "elementCount";
        return array(detail.target(node, "elementData"), detail.number(node, count));
      }
      case "java.util.PriorityQueue" -> {
        return array(detail.target(node, "queue"), detail.number(node, "size"));
      }
      case "java.util.concurrent.CopyOnWriteArrayList" -> {
        int array = detail.target(node, "array");
        return array(array, array < 0 ? 0 : detail.length(array));
      }
      case "java.util.Arrays$ArrayList" -> {
        int array = detail.target(node, "a");
        return array(array, array < 0 ? 0 : detail.length(array));
      }
      case "java.util.ImmutableCollections$ListN" -> {
        int array = detail.target(node, "elements");
        return array(array, array < 0 ? 0 : detail.length(array));
      }
      case "java.util.ArrayDeque" -> {
        return deque(node);
      }
      case "java.util.concurrent.ArrayBlockingQueue" -> {
        return present(detail.target(node, "items"), detail.number(node, "count"));
      }
      case "java.util.LinkedList" -> {
        return chain(detail.target(node, "first"), "item", detail.number(node, "size"));
      }
      case "java.util.concurrent.ConcurrentLinkedQueue",
          "java.util.concurrent.LinkedBlockingQueue",
          "java.util.concurrent.ConcurrentLinkedDeque" -> {
        return chain(detail.target(node, "head"), "item", -1);
      }
      case "java.util.HashMap", "java.util.LinkedHashMap", "java.util.WeakHashMap" -> {
        return table(node, "value", "size");
      }
      case "java.util.Hashtable", "java.util.Properties" -> {
        if (detail.target(node, "table") < 0) {
          return open(detail.target(node, "map"), wrapping + 1);
        }
        return table(node, "value", "count");
      }
      case "java.util.concurrent.ConcurrentHashMap" -> {
        return table(node, "val", "");
      }
      case "java.util.IdentityHashMap" -> {
        return pairs(detail.target(node, "table"), detail.number(node, "size"));
      }
      case "java.util.TreeMap" -> {
        return tree(detail.target(node, "root"), detail.number(node, "size"));
      }
      case "java.util.HashSet", "java.util.LinkedHashSet" -> {
        return keys(open(detail.target(node, "map"), wrapping + 1));
      }
      case "java.util.TreeSet" -> {
        return keys(open(detail.target(node, "m"), wrapping + 1));
      }
      case "java.util.concurrent.ConcurrentHashMap$KeySetView" -> {
        return keys(open(detail.target(node, "map"), wrapping + 1));
      }
      default -> {
        return wrapped(node, name, wrapping);
      }
    }
  }

  private Entries wrapped(int node, String name, int wrapping) throws IOException {
    if (!name.startsWith("java.util.Collections$")) {
      return null;
    }
    for (String field : new String[] {"list", "c", "m", "s"}) {
      int inner = detail.target(node, field);
      if (inner >= 0) {
        return open(inner, wrapping + 1);
      }
    }
    return null;
  }

  private boolean full() {
    return entries.size() >= atMost;
  }

  private Entries array(int array, long size) throws IOException {
    for (long i = 0; i < size && !full() && array >= 0; i++) {
      entries.add(new Entry(-1, detail.element(array, i)));
    }
    return new Entries(size, entries);
  }

  private Entries present(int array, long size) throws IOException {
    long length = array < 0 ? 0 : detail.length(array);
    for (long i = 0; i < length && !full(); i++) {
      int element = detail.element(array, i);
      if (element >= 0) {
        entries.add(new Entry(-1, element));
      }
    }
    return new Entries(size, entries);
  }

  private Entries deque(int node) throws IOException {
    int array = detail.target(node, "elements");
    long head = detail.number(node, "head");
    long tail = detail.number(node, "tail");
    long length = array < 0 ? 0 : detail.length(array);
    long size = length == 0 ? 0 : Math.floorMod(tail - head, length);
    for (long i = 0; i < size && !full(); i++) {
      entries.add(new Entry(-1, detail.element(array, (head + i) % length)));
    }
    return new Entries(size, entries);
  }

  private Entries chain(int first, String item, long size) throws IOException {
    int node = first;
    // some queues end in a node that refers to itself
    for (int next; node >= 0 && !full(); node = next == node ? -1 : next) {
      int value = detail.target(node, item);
      if (value >= 0 || size >= 0) {
        entries.add(new Entry(-1, value));
      }
      next = detail.target(node, "next");
    }
    return new Entries(size, entries);
  }

  private Entries table(int node, String value, String size) throws IOException {
    int table = detail.target(node, "table");
    long length = table < 0 ? 0 : detail.length(table);
    for (long i = 0; i < length && !full(); i++) {
      int entry = detail.element(table, i);
      if (entry >= 0 && snapshot.typeName(entry).endsWith("$TreeBin")) {
        entry = detail.target(entry, "first");
      }
      while (entry >= 0 && !full()) {
        int key = detail.target(entry, "key");
        if (key < 0) {
          key = detail.target(entry, "referent");
        }
        entries.add(new Entry(key, detail.target(entry, value)));
        entry = detail.target(entry, "next");
      }
    }
    return new Entries(size.isEmpty() ? -1 : detail.number(node, size), entries);
  }

  private Entries pairs(int table, long size) throws IOException {
    long length = table < 0 ? 0 : detail.length(table);
    for (long i = 0; i + 1 < length && !full(); i += 2) {
      int key = detail.element(table, i);
      if (key >= 0) {
        entries.add(new Entry(key, detail.element(table, i + 1)));
      }
    }
    return new Entries(size, entries);
  }

  private Entries tree(int root, long size) throws IOException {
    int node = root;
    for (int left; node >= 0 && (left = detail.target(node, "left")) >= 0; ) {
      node = left;
    }
    while (node >= 0 && !full()) {
      entries.add(new Entry(detail.target(node, "key"), detail.target(node, "value")));
      node = successor(node);
    }
    return new Entries(size, entries);
  }

  private int successor(int node) throws IOException {
    int next = detail.target(node, "right");
    if (next >= 0) {
      for (int left; (left = detail.target(next, "left")) >= 0; ) {
        next = left;
      }
      return next;
    }
    int child = node;
    int parent = detail.target(node, "parent");
    while (parent >= 0 && detail.target(parent, "right") == child) {
      child = parent;
      parent = detail.target(parent, "parent");
    }
    return parent;
  }

  private static Entries keys(Entries map) {
    if (map == null) {
      return null;
    }
    return new Entries(
        map.size(), map.entries().stream().map(entry -> new Entry(-1, entry.key())).toList());
  }
}
