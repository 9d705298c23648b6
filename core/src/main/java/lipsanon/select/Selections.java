package lipsanon.select;

import java.io.IOException;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import lipsanon.array.IntList;
import lipsanon.index.IdStyle;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;
import lipsanon.label.ElementNames;
import lipsanon.label.Families;
import lipsanon.label.Labels;
import lipsanon.label.TypeFilter;

/** Turns what users type into objects: an identifier, or a type by its name or a part of it. */
public final class Selections {
  /** Before the name of a class: its class object is meant, not its instances. */
  private static final String CLASS = "class ";

  /** Behind what the names of classes begin with that were made one after the other. */
  private static final String MADE = "…";

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

  /** All objects of some types, as a set. */
  public static BitSet set(Snapshot snapshot, List<Integer> types) {
    boolean[] wanted = new boolean[snapshot.types().size()];
    types.forEach(t -> wanted[t] = true);
    return Scan.of(snapshot.typeColumn(), type -> wanted[(int) type]);
  }

  /** All objects of some types, ascending. */
  public static IntList objects(Snapshot snapshot, List<Integer> types) {
    return IntList.of(set(snapshot, types));
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
    if (described == null && name.startsWith(CLASS)) {
      BitSet classes = classes(snapshot, name.substring(CLASS.length()));
      described = classes.isEmpty() ? null : IntList.of(classes);
    }
    return described != null || name.indexOf(',') < 0 ? described : several(snapshot, name);
  }

  /** Whether there are objects of a type of that name. */
  public static boolean hasObjects(Snapshot snapshot, String name) {
    return !types(snapshot, name).isEmpty();
  }

  /** The class objects of the types that a name stands for: its own, else those that end so. */
  public static BitSet classes(Snapshot snapshot, String name) {
    BitSet exact = new BitSet();
    BitSet ending = new BitSet();
    String stem = name.substring(0, Math.max(0, name.length() - MADE.length()));
    for (TypeInfo type : snapshot.types()) {
      if (type.classNode() < 0) {
        continue;
      }
      boolean made = name.endsWith(MADE) && isMade(type.name(), stem);
      if (made || type.name().equals(name) || Families.of(type.name()).equals(name)) {
        exact.set(type.classNode());
      } else if (type.name().endsWith("." + name) || type.name().endsWith("$" + name)) {
        ending.set(type.classNode());
      }
    }
    return exact.isEmpty() && name.indexOf('.') < 0 ? ending : exact;
  }

  private static boolean isMade(String type, String stem) {
    return Families.stem(type).equals(stem) || Families.stem(Families.of(type)).equals(stem);
  }

  /** The same as a set: of types without a list in between. */
  static BitSet namedSet(Snapshot snapshot, String name) throws IOException {
    List<Integer> types = types(snapshot, name);
    if (types.isEmpty()) {
      types = family(snapshot, name);
    }
    if (!types.isEmpty()) {
      return set(snapshot, types);
    }
    IntList named = named(snapshot, name);
    if (named == null) {
      return null;
    }
    BitSet set = new BitSet();
    for (int i = 0; i < named.size(); i++) {
      set.set(named.get(i));
    }
    return set;
  }

  private static IntList several(Snapshot snapshot, String names) throws IOException {
    BitSet all = new BitSet();
    for (String name : names.split(",")) {
      IntList some = name.isBlank() ? null : named(snapshot, name.trim());
      if (some == null) {
        return null;
      }
      for (int i = 0; i < some.size(); i++) {
        all.set(some.get(i));
      }
    }
    return IntList.of(all);
  }

  private static List<Integer> family(Snapshot snapshot, String name) {
    List<Integer> found = new ArrayList<>();
    // types that were made one for each thing are told by what their names begin with
    String begin = name.endsWith(MADE) ? name.substring(0, name.length() - MADE.length()) : "";
    for (int t = 0; t < snapshot.types().size(); t++) {
      String type = snapshot.types().get(t).name();
      boolean made = !begin.isEmpty() && type.startsWith(begin);
      if (snapshot.counts(t).count() > 0 && (made || Families.of(type).equals(name))) {
        found.add(t);
      }
    }
    return found;
  }

  /** A type followed by a label, by properties in braces, or by what its elements are. */
  private static IntList described(Snapshot snapshot, String name) throws IOException {
    ElementNames.Parts element = ElementNames.apart(name);
    if (element != null) {
      IntList fitting =
          fitting(snapshot, objects(snapshot, types(snapshot, element.type())), element.label());
      if (!fitting.isEmpty()) {
        return fitting;
      }
    }
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
    List<String> names = new ArrayList<>();
    for (int t = 0; t < snapshot.types().size(); t++) {
      if (snapshot.counts(t).count() > 0) {
        names.add(snapshot.types().get(t).name());
      }
    }
    return Near.of(name, names);
  }
}
