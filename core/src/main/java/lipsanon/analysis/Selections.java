package lipsanon.analysis;

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
}
