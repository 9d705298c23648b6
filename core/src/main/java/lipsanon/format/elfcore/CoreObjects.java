package lipsanon.format.elfcore;

import java.io.IOException;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import lipsanon.format.metadata.Signature;
import lipsanon.index.FieldValue;
import lipsanon.index.Snapshot;

/** Single objects of a core dump as their memory has them: fields by path, elements by index. */
final class CoreObjects {
  /** Where arrays and texts keep their length. */
  static final int LENGTH_OFFSET = 8;

  final CoreMemory memory;
  final TypeLayouts layouts;
  final CoreValues values;
  private final Snapshot snapshot;

  /** Offsets of references by type, in the order of the fields: made once. */
  private final Map<Integer, List<TypeLayouts.Slot>> references = new HashMap<>();

  CoreObjects(Snapshot snapshot, CoreMemory memory, TypeLayouts layouts) {
    this.snapshot = snapshot;
    this.memory = memory;
    this.layouts = layouts;
    this.values = new CoreValues(snapshot, memory, layouts.enums);
  }

  /** How an object is laid out. */
  TypeLayouts.Layout layout(int node) {
    return layouts.layouts.get(snapshot.type(node));
  }

  /** Where an object stands in memory. */
  long address(int node) {
    return snapshot.rawId(node);
  }

  /** The fields of a type, or of an array's elements, that are references. */
  List<TypeLayouts.Slot> referenceSlots(int type) {
    return references.computeIfAbsent(
        type,
        t ->
            layouts.layouts.get(t).slots().stream()
                .filter(slot -> Signature.isReference(slot.element()))
                .toList());
  }

  /** The object that a word of memory refers to, or -1. */
  int target(long slot) throws IOException {
    long target = memory.u8(slot);
    return target == 0 ? -1 : snapshot.nodeOf(target);
  }

  /** The number of elements of an array that its memory can hold. */
  long elements(int node, TypeLayouts.Layout layout) throws IOException {
    long told = memory.u4(address(node) + LENGTH_OFFSET);
    long room = snapshot.shallowBytes(node) - layout.data();
    return layout.componentBytes() == 0
        ? told
        : Math.max(0, Math.min(told, room / layout.componentBytes()));
  }

  /**
   * The object that a field refers to by its name; -1 for null, and where there is no such field.
   */
  int target(int node, String path) throws IOException {
    for (TypeLayouts.Slot slot : referenceSlots(snapshot.type(node))) {
      if (slot.path().equals(path)) {
        return target(address(node) + slot.offset());
      }
    }
    return -1;
  }

  /** The value of a field that is a whole number; -1 where there is no such field. */
  long number(int node, String path) throws IOException {
    for (TypeLayouts.Slot slot : layout(node).slots()) {
      if (slot.path().equals(path) && Signature.bytes(slot.element()) == Integer.BYTES) {
        return memory.i4(address(node) + slot.offset());
      }
    }
    return -1;
  }

  /**
   * A value in an object or an element.
   *
   * @param there whether there is such a field
   * @param node the object that it refers to, or -1
   * @param text of what is no reference; null for references
   */
  record Value(boolean there, int node, String text) {
    static final Value NONE = new Value(false, -1, null);
  }

  /** A field of an object by its path. */
  Value inObject(int node, String path) throws IOException {
    for (TypeLayouts.Slot slot : layout(node).slots()) {
      if (slot.path().equals(path)) {
        return value(slot, address(node) + slot.offset());
      }
    }
    return Value.NONE;
  }

  /** An array's element, or a field of one that is a structure. */
  Value inElement(int array, long index, String path) throws IOException {
    long at = array < 0 ? -1 : elementAt(array, index);
    if (at < 0) {
      return Value.NONE;
    }
    TypeLayouts.Layout layout = layout(array);
    if (Signature.isReference(layout.element())) {
      return path.isEmpty() ? new Value(true, target(at), null) : Value.NONE;
    }
    if (layout.element() != 0) {
      return new Value(true, -1, values.number(layout.element(), layout.names(), at));
    }
    for (TypeLayouts.Slot slot : layout.slots()) {
      if (slot.path().equals(path) || path.isEmpty()) {
        return value(slot, at + slot.offset());
      }
    }
    return Value.NONE;
  }

  private Value value(TypeLayouts.Slot slot, long at) throws IOException {
    FieldValue value = values.value(slot.via(), slot.type(), slot.element(), slot.names(), at);
    boolean reference = Signature.isReference(slot.element());
    return new Value(true, value.target(), reference ? null : value.value());
  }

  /** A place in an element of an array of structures; -1 where there is no such field. */
  long elementOffset(int array, String path) {
    for (TypeLayouts.Slot slot : layout(array).slots()) {
      if (slot.path().equals(path)) {
        return slot.offset();
      }
    }
    return -1;
  }

  /** The address of an array's element; -1 beyond its end. */
  long elementAt(int array, long index) throws IOException {
    TypeLayouts.Layout layout = layout(array);
    return layout.rank() != 1 || index < 0 || index >= elements(array, layout)
        ? -1
        : address(array) + layout.data() + index * layout.componentBytes();
  }

  /** The number of an array's elements; 0 for what is none. */
  long count(int array) throws IOException {
    return array < 0 || layout(array).rank() == 0 ? 0 : elements(array, layout(array));
  }

  /** What a word refers to, or -1. */
  int at(long place) throws IOException {
    return place < 0 ? -1 : target(place);
  }

  /** A number of four bytes. */
  int numberAt(long place) throws IOException {
    return memory.i4(place);
  }
}
