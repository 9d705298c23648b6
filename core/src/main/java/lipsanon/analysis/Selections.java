package lipsanon.analysis;

import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import lipsanon.array.IntList;
import lipsanon.index.IdStyle;
import lipsanon.index.PackedColumn;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;

/** Turns what users type into objects: an identifier, or a type by its name or a part of it. */
public final class Selections {
  private Selections() {}

  /** The object with an identifier as the tool prints it, or -1. */
  public static int object(Snapshot snapshot, String text) {
    return snapshot.nodeOf(text);
  }

  /** Whether a text is meant as an identifier. */
  public static boolean isIdentifier(String text) {
    return IdStyle.matches(text);
  }

  /** The types that a name stands for: exactly, else by simple name, else as a glob or a part. */
  public static List<Integer> types(Snapshot snapshot, String name) {
    List<Integer> exact = new ArrayList<>();
    List<Integer> simple = new ArrayList<>();
    List<Integer> other = new ArrayList<>();
    TypeFilter filter = new TypeFilter(name, List.of(), false);
    for (int t = 0; t < snapshot.types().size(); t++) {
      TypeInfo type = snapshot.types().get(t);
      if (snapshot.counts(t).count() == 0) {
        continue;
      }
      if (type.name().equals(name)) {
        exact.add(t);
      } else if (type.name().endsWith("." + name) || type.name().endsWith("$" + name)) {
        simple.add(t);
      } else if (filter.accepts(type)) {
        other.add(t);
      }
    }
    return !exact.isEmpty() ? exact : !simple.isEmpty() ? simple : other;
  }

  /** All objects of some types, ascending. */
  public static IntList objects(Snapshot snapshot, List<Integer> types) {
    boolean[] wanted = new boolean[snapshot.types().size()];
    types.forEach(t -> wanted[t] = true);
    IntList nodes = new IntList();
    PackedColumn column = snapshot.typeColumn();
    long[] block = new long[64];
    long blocks = column.count() + 63 >> 6;
    for (long b = 0; b < blocks; b++) {
      int size = column.block(b, block);
      for (int i = 0; i < size; i++) {
        if (wanted[(int) block[i]]) {
          nodes.add((int) (b << 6) + i);
        }
      }
    }
    return nodes;
  }

  /**
   * The objects that a name stands for, as any answer prints it: a type's name or a part of it, a
   * family of types, a type with what tells its objects apart ({@code v8:closure ring}, {@code
   * Object {id, due}}), or several of these with commas between them.
   *
   * @return null if nothing is called so
   */
  public static IntList named(Snapshot snapshot, String name) throws IOException {
    List<Integer> types = types(snapshot, name);
    if (types.isEmpty()) {
      types = family(snapshot, name);
    }
    if (!types.isEmpty()) {
      return objects(snapshot, types);
    }
    IntList described = described(snapshot, name);
    return described != null || name.indexOf(',') < 0 ? described : several(snapshot, name);
  }

  private static IntList several(Snapshot snapshot, String names) throws IOException {
    java.util.TreeSet<Integer> all = new java.util.TreeSet<>();
    for (String name : names.split(",")) {
      IntList some = name.isBlank() ? null : named(snapshot, name.trim());
      if (some == null) {
        return null;
      }
      for (int i = 0; i < some.size(); i++) {
        all.add(some.get(i));
      }
    }
    IntList nodes = new IntList();
    all.forEach(nodes::add);
    return nodes;
  }

  private static List<Integer> family(Snapshot snapshot, String name) {
    List<Integer> found = new ArrayList<>();
    for (int t = 0; t < snapshot.types().size(); t++) {
      if (snapshot.counts(t).count() > 0
          && Families.of(snapshot.types().get(t).name()).equals(name)) {
        found.add(t);
      }
    }
    return found;
  }

  /** A type followed by a label, by properties in braces, or by what its elements are. */
  private static IntList described(Snapshot snapshot, String name) throws IOException {
    for (int space = name.indexOf(' '); space > 0; space = name.indexOf(' ', space + 1)) {
      List<Integer> types = new ArrayList<>();
      String type = name.substring(0, space);
      for (int t = 0; t < snapshot.types().size(); t++) {
        if (Families.of(snapshot.types().get(t).name()).equals(type)) {
          types.add(t);
        }
      }
      if (!types.isEmpty()) {
        IntList fitting = fitting(snapshot, objects(snapshot, types), name.substring(space + 1));
        if (!fitting.isEmpty()) {
          return fitting;
        }
      }
    }
    return null;
  }

  private static IntList fitting(Snapshot snapshot, IntList objects, String description)
      throws IOException {
    IntList fitting = new IntList();
    boolean properties = description.startsWith("{") && description.endsWith("}");
    List<String> wanted =
        properties
            ? List.of(description.substring(1, description.length() - 1).split(", "))
            : List.of();
    for (int i = 0; i < objects.size(); i++) {
      int node = objects.get(i);
      boolean fits =
          properties
              ? hasAll(snapshot, node, wanted)
              : description.startsWith("of ") || isCalled(snapshot, node, description);
      if (fits) {
        fitting.add(node);
      }
    }
    return fitting;
  }

  private static boolean isCalled(Snapshot snapshot, int node, String text) throws IOException {
    String label = Labels.of(snapshot, node);
    // a function's place need not be typed
    return label.equals(text) || label.startsWith(text + " (");
  }

  private static boolean hasAll(Snapshot snapshot, int node, List<String> wanted)
      throws IOException {
    java.util.Set<String> names = new java.util.HashSet<>();
    for (lipsanon.index.FieldValue field : snapshot.objects().fields(node, 64)) {
      names.add(field.via().name());
    }
    for (String name : wanted) {
      if (!name.equals("…") && !names.contains(name)) {
        return false;
      }
    }
    return true;
  }

  /** Names of types that are written much like one that does not exist, the nearest first. */
  public static List<String> near(Snapshot snapshot, String name) {
    String wanted = simple(name).toLowerCase(java.util.Locale.ROOT);
    java.util.TreeMap<Integer, List<String>> byDistance = new java.util.TreeMap<>();
    for (int t = 0; t < snapshot.types().size(); t++) {
      if (snapshot.counts(t).count() > 0) {
        String type = snapshot.types().get(t).name();
        int distance = distance(wanted, simple(type).toLowerCase(java.util.Locale.ROOT));
        if (distance <= Math.max(1, wanted.length() / 3)) {
          byDistance.computeIfAbsent(distance, key -> new ArrayList<>()).add(type);
        }
      }
    }
    List<String> near = new ArrayList<>();
    byDistance.values().forEach(near::addAll);
    return near.subList(0, Math.min(3, near.size()));
  }

  private static String simple(String name) {
    return name.substring(Math.max(name.lastIndexOf('.'), name.lastIndexOf('$')) + 1);
  }

  /** How many letters to change, add or leave out (V. Levenshtein 1965); long names are cut. */
  private static int distance(String a, String b) {
    int most = 64;
    if (Math.abs(a.length() - b.length()) > most / 4 || a.length() > most || b.length() > most) {
      return most;
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
