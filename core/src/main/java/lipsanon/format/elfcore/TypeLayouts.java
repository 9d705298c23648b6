package lipsanon.format.elfcore;

import java.io.ByteArrayOutputStream;
import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import lipsanon.format.dotnet.DotnetFields;
import lipsanon.index.Via;

/** How the objects of each type are laid out: what the index keeps to show single objects. */
final class TypeLayouts {
  final List<Layout> layouts = new ArrayList<>();
  final List<Map<Long, String>> enums = new ArrayList<>();

  /** By array: names of the static variables whose values stand in its elements. */
  final Map<Integer, Map<Long, Via>> variables = new HashMap<>();

  /** Pairs of what a conditional weak table keeps: key, value. */
  final List<int[]> dependent = new ArrayList<>();

  /** The parts of the heap. */
  final List<Area> areas = new ArrayList<>();

  /** Objects that keep their type's loader: by type, the node of the loader's object. */
  final Map<Integer, Integer> loaders = new HashMap<>();

  /** Methods that delegates call, by the runtime's description of each. */
  final Map<Long, String> methods = new HashMap<>();

  /** Free blocks by size: from how many bytes on, count, bytes. */
  final List<long[]> freeSizes = new ArrayList<>();

  /** What words on stacks alone keep. */
  long stackObjects;

  long stackBytes;

  /** A part of the heap. */
  record Area(String name, long used, long reserved, long free, long largest, long blocks) {}

  /**
   * A value in an object.
   *
   * @param offset from the object's begin; of an element: from the element's
   * @param owner the class that declares it
   * @param path its field, or fields with dots
   * @param element its element type
   * @param type the name of its type
   * @param names which enumeration names its values, or -1
   */
  record Slot(long offset, String owner, String path, int element, String type, int names) {
    Via via() {
      return DotnetFields.via(owner, path);
    }
  }

  /**
   * How a type's objects are laid out.
   *
   * @param baseBytes of an object without components
   * @param componentBytes of each component
   * @param rank of an array, else 0
   * @param data where an array's elements begin
   * @param element element type of an array's elements, or of a boxed value; else 0
   * @param elementType its name
   * @param names of an array of an enumeration, or -1
   * @param slots values in an object, or in each element of an array of structures
   */
  record Layout(
      long baseBytes,
      int componentBytes,
      int rank,
      long data,
      int element,
      String elementType,
      int names,
      List<Slot> slots) {}

  byte[] bytes() throws IOException {
    ByteArrayOutputStream bytes = new ByteArrayOutputStream();
    DataOutputStream out = new DataOutputStream(bytes);
    Strings strings = new Strings();
    ByteArrayOutputStream body = new ByteArrayOutputStream();
    write(new DataOutputStream(body), strings);
    strings.write(out);
    body.writeTo(out);
    return bytes.toByteArray();
  }

  private void write(DataOutputStream out, Strings strings) throws IOException {
    out.writeInt(layouts.size());
    for (Layout layout : layouts) {
      out.writeLong(layout.baseBytes);
      out.writeInt(layout.componentBytes);
      out.writeInt(layout.rank);
      out.writeLong(layout.data);
      out.writeInt(layout.element);
      out.writeInt(strings.number(layout.elementType));
      out.writeInt(layout.names);
      out.writeInt(layout.slots.size());
      for (Slot slot : layout.slots) {
        out.writeLong(slot.offset);
        out.writeInt(strings.number(slot.owner));
        out.writeInt(strings.number(slot.path));
        out.writeInt(slot.element);
        out.writeInt(strings.number(slot.type));
        out.writeInt(slot.names);
      }
    }
    out.writeInt(enums.size());
    for (Map<Long, String> names : enums) {
      out.writeInt(names.size());
      for (Map.Entry<Long, String> one : names.entrySet()) {
        out.writeLong(one.getKey());
        out.writeInt(strings.number(one.getValue()));
      }
    }
    out.writeInt(variables.size());
    for (Map.Entry<Integer, Map<Long, Via>> array : variables.entrySet()) {
      out.writeInt(array.getKey());
      out.writeInt(array.getValue().size());
      for (Map.Entry<Long, Via> one : array.getValue().entrySet()) {
        out.writeLong(one.getKey());
        out.writeInt(strings.number(one.getValue().owner()));
        out.writeInt(strings.number(one.getValue().name()));
      }
    }
    pairs(out, dependent);
    List<int[]> kept = new ArrayList<>();
    loaders.forEach((type, node) -> kept.add(new int[] {type, node}));
    pairs(out, kept);
    out.writeInt(methods.size());
    for (Map.Entry<Long, String> method : methods.entrySet()) {
      out.writeLong(method.getKey());
      out.writeInt(strings.number(method.getValue()));
    }
    out.writeInt(freeSizes.size());
    for (long[] size : freeSizes) {
      out.writeLong(size[0]);
      out.writeLong(size[1]);
      out.writeLong(size[2]);
    }
    out.writeLong(stackObjects);
    out.writeLong(stackBytes);
    out.writeInt(areas.size());
    for (Area area : areas) {
      out.writeInt(strings.number(area.name));
      out.writeLong(area.used);
      out.writeLong(area.reserved);
      out.writeLong(area.free);
      out.writeLong(area.largest);
      out.writeLong(area.blocks);
    }
  }

  private static void pairs(DataOutputStream out, List<int[]> pairs) throws IOException {
    out.writeInt(pairs.size());
    for (int[] pair : pairs) {
      out.writeInt(pair[0]);
      out.writeInt(pair[1]);
    }
  }

  static TypeLayouts read(DataInputStream in) throws IOException {
    TypeLayouts all = new TypeLayouts();
    String[] strings = Strings.read(in);
    int types = in.readInt();
    for (int i = 0; i < types; i++) {
      long base = in.readLong();
      int component = in.readInt();
      int rank = in.readInt();
      long data = in.readLong();
      int element = in.readInt();
      String elementType = strings[in.readInt()];
      int names = in.readInt();
      int count = in.readInt();
      List<Slot> slots = new ArrayList<>(Math.min(count, 1 << 12));
      for (int s = 0; s < count; s++) {
        slots.add(
            new Slot(
                in.readLong(),
                strings[in.readInt()],
                strings[in.readInt()],
                in.readInt(),
                strings[in.readInt()],
                in.readInt()));
      }
      all.layouts.add(new Layout(base, component, rank, data, element, elementType, names, slots));
    }
    int enums = in.readInt();
    for (int i = 0; i < enums; i++) {
      int count = in.readInt();
      Map<Long, String> names = new HashMap<>();
      for (int n = 0; n < count; n++) {
        names.put(in.readLong(), strings[in.readInt()]);
      }
      all.enums.add(names);
    }
    int arrays = in.readInt();
    for (int i = 0; i < arrays; i++) {
      int node = in.readInt();
      int count = in.readInt();
      Map<Long, Via> names = new HashMap<>();
      for (int n = 0; n < count; n++) {
        long offset = in.readLong();
        names.put(
            offset, new Via(Via.Kind.STATIC, strings[in.readInt()], strings[in.readInt()], -1));
      }
      all.variables.put(node, names);
    }
    for (int i = in.readInt(); i > 0; i--) {
      all.dependent.add(new int[] {in.readInt(), in.readInt()});
    }
    for (int i = in.readInt(); i > 0; i--) {
      all.loaders.put(in.readInt(), in.readInt());
    }
    for (int i = in.readInt(); i > 0; i--) {
      all.methods.put(in.readLong(), strings[in.readInt()]);
    }
    for (int i = in.readInt(); i > 0; i--) {
      all.freeSizes.add(new long[] {in.readLong(), in.readLong(), in.readLong()});
    }
    all.stackObjects = in.readLong();
    all.stackBytes = in.readLong();
    for (int i = in.readInt(); i > 0; i--) {
      all.areas.add(
          new Area(
              strings[in.readInt()],
              in.readLong(),
              in.readLong(),
              in.readLong(),
              in.readLong(),
              in.readLong()));
    }
    return all;
  }

  /** Texts, each once. */
  private static final class Strings {
    private final Map<String, Integer> numbers = new HashMap<>();
    private final List<String> texts = new ArrayList<>();

    int number(String text) {
      return numbers.computeIfAbsent(
          text,
          t -> {
            texts.add(t);
            return texts.size() - 1;
          });
    }

    void write(DataOutputStream out) throws IOException {
      out.writeInt(texts.size());
      for (String text : texts) {
        byte[] bytes = text.getBytes(java.nio.charset.StandardCharsets.UTF_8);
        out.writeInt(bytes.length);
        out.write(bytes);
      }
    }

    static String[] read(DataInputStream in) throws IOException {
      String[] texts = new String[in.readInt()];
      for (int i = 0; i < texts.length; i++) {
        texts[i] = new String(in.readNBytes(in.readInt()), java.nio.charset.StandardCharsets.UTF_8);
      }
      return texts;
    }
  }
}
