package lipsanon.format.elfcore;

import java.io.ByteArrayInputStream;
import java.io.DataInputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Consumer;
import lipsanon.array.IntList;
import lipsanon.format.dotnet.DelegateParts;
import lipsanon.format.dotnet.HeapParts;
import lipsanon.graph.Strength;
import lipsanon.index.FieldValue;
import lipsanon.index.ObjectReader;
import lipsanon.index.Reference;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;
import lipsanon.index.Via;
import lipsanon.io.ByteSource;
import lipsanon.io.InputException;

/** Shows single objects of a core dump: their fields, values, texts and entries. */
public final class ElfCoreDetail implements ObjectReader {
  private static final int PIECE = 1 << 16;
  private static final int LONGEST_TEXT = 1 << 20;
  private static final int LENGTH_OFFSET = 8;
  private static final int TEXT_OFFSET = 12;
  private static final Via LOADER = new Via(Via.Kind.INTERNAL, "", "loader", -1);
  private static final String STRING = "System.String";

  private final Snapshot snapshot;
  private final ByteSource source;
  private final CoreMemory memory;
  private final TypeLayouts layouts;
  private final CoreValues values;
  private byte[] text = {};
  private final Map<Integer, IntList> dependent = new HashMap<>();

  /** Offsets of references by type, in the order of the fields: made once. */
  private final Map<Integer, List<TypeLayouts.Slot>> references = new HashMap<>();

  /**
   * Opens it.
   *
   * @param detail what the reader left in the index
   */
  public ElfCoreDetail(Snapshot snapshot, ByteSource source, byte[] detail) throws IOException {
    this.snapshot = snapshot;
    this.source = source;
    this.memory = CoreFile.read(source).memory();
    this.layouts = TypeLayouts.read(new DataInputStream(new ByteArrayInputStream(detail)));
    this.values = new CoreValues(snapshot, memory, layouts.enums);
    for (int[] pair : layouts.dependent) {
      dependent.computeIfAbsent(pair[0], key -> new IntList()).add(pair[1]);
    }
  }

  private TypeLayouts.Layout layout(int node) {
    return layouts.layouts.get(snapshot.type(node));
  }

  private long address(int node) {
    return snapshot.rawId(node);
  }

  private List<TypeLayouts.Slot> referenceSlots(int type) {
    return references.computeIfAbsent(
        type,
        t ->
            layouts.layouts.get(t).slots().stream()
                .filter(slot -> Signature.isReference(slot.element()))
                .toList());
  }

  private interface Sink {
    /** Hears a reference; false: no more. */
    boolean reference(int target, Via via, Reference.Kind kind) throws IOException;
  }

  private void each(int node, Sink sink) throws IOException {
    TypeLayouts.Layout layout = layout(node);
    List<TypeLayouts.Slot> slots = referenceSlots(snapshot.type(node));
    long at = address(node);
    Map<Long, Via> variables = layouts.variables.getOrDefault(node, Map.of());
    if (layout.rank() == 0) {
      boolean delegate = snapshot.types().get(snapshot.type(node)).is(TypeInfo.Trait.DELEGATE);
      for (TypeLayouts.Slot slot : slots) {
        int target = target(at + slot.offset());
        Via via = delegate ? ofDelegate(slot) : slot.via();
        if (target >= 0 && !sink.reference(target, via, Reference.Kind.STRONG)) {
          return;
        }
      }
    } else {
      boolean plain = Signature.isReference(layout.element());
      long count = plain || !slots.isEmpty() ? elements(node, layout) : 0;
      for (long i = 0; i < count; i++) {
        long element = at + layout.data() + i * layout.componentBytes();
        if (plain) {
          int target = target(element);
          Via variable = variables.get(element - at);
          if (target >= 0
              && !sink.reference(
                  target,
                  variable == null ? new Via(Via.Kind.ELEMENT, "", "", i) : variable,
                  variable == null ? Reference.Kind.STRONG : Reference.Kind.WEAK)) {
            return;
          }
          continue;
        }
        for (TypeLayouts.Slot slot : slots) {
          int target = target(element + slot.offset());
          Via via = new Via(Via.Kind.ELEMENT, "", slot.path(), i);
          if (target >= 0 && !sink.reference(target, via, Reference.Kind.STRONG)) {
            return;
          }
        }
      }
    }
    Integer loader = layouts.loaders.get(snapshot.type(node));
    if (loader != null && !sink.reference(loader, LOADER, Reference.Kind.STRONG)) {
      return;
    }
    IntList values = dependent.get(node);
    for (int i = 0; values != null && i < values.size(); i++) {
      if (!sink.reference(values.get(i), dependentOf(node), Reference.Kind.STRONG)) {
        return;
      }
    }
  }

  private static Via ofDelegate(TypeLayouts.Slot slot) {
    return switch (slot.path()) {
      case "_invocationList" -> DelegateParts.HANDLERS;
      case "_target" -> DelegateParts.TARGET;
      default -> slot.via();
    };
  }

  private int target(long slot) throws IOException {
    long target = memory.u8(slot);
    return target == 0 ? -1 : snapshot.nodeOf(target);
  }

  /** The number of elements of an array that its memory can hold. */
  private long elements(int node, TypeLayouts.Layout layout) throws IOException {
    long told = memory.u4(address(node) + LENGTH_OFFSET);
    long room = snapshot.shallowBytes(node) - layout.data();
    return layout.componentBytes() == 0
        ? told
        : Math.max(0, Math.min(told, room / layout.componentBytes()));
  }

  @Override
  public void references(int node, Consumer<Reference> sink) throws IOException {
    each(
        node,
        (target, via, kind) -> {
          sink.accept(new Reference(target, kind, via));
          return true;
        });
  }

  @Override
  public Via viaTo(int from, int to) throws IOException {
    TypeLayouts.Layout layout = layout(from);
    long wanted = snapshot.rawId(to);
    long at = address(from);
    if (layout.rank() > 0) {
      Via element = elementTo(from, layout, wanted);
      if (element != null) {
        return element;
      }
    } else {
      boolean delegate = snapshot.types().get(snapshot.type(from)).is(TypeInfo.Trait.DELEGATE);
      for (TypeLayouts.Slot slot : referenceSlots(snapshot.type(from))) {
        if (memory.u8(at + slot.offset()) == wanted) {
          return delegate ? ofDelegate(slot) : slot.via();
        }
      }
    }
    Integer loader = layouts.loaders.get(snapshot.type(from));
    if (loader != null && loader == to) {
      return LOADER;
    }
    IntList values = dependent.get(from);
    for (int i = 0; values != null && i < values.size(); i++) {
      if (values.get(i) == to) {
        return dependentOf(from);
      }
    }
    return null;
  }

  /** The element that refers to an address: arrays are long, so nothing is looked up on the way. */
  private Via elementTo(int array, TypeLayouts.Layout layout, long wanted) throws IOException {
    boolean plain = Signature.isReference(layout.element());
    List<TypeLayouts.Slot> slots = referenceSlots(snapshot.type(array));
    if (!plain && slots.isEmpty()) {
      return null;
    }
    Map<Long, Via> variables = layouts.variables.getOrDefault(array, Map.of());
    long count = elements(array, layout);
    int each = layout.componentBytes();
    int atOnce = Math.max(1, PIECE / each);
    byte[] piece = new byte[atOnce * each];
    for (long first = 0; first < count; first += atOnce) {
      int some = (int) Math.min(atOnce, count - first);
      memory.read(address(array) + layout.data() + first * each, piece, 0, some * each);
      for (int i = 0; i < some; i++) {
        if (plain) {
          boolean found = CoreMemory.longAt(piece, i * each) == wanted;
          if (found && !variables.containsKey(layout.data() + (first + i) * each)) {
            return new Via(Via.Kind.ELEMENT, "", "", first + i);
          }
          continue;
        }
        for (TypeLayouts.Slot slot : slots) {
          if (CoreMemory.longAt(piece, i * each + (int) slot.offset()) == wanted) {
            return new Via(Via.Kind.ELEMENT, "", slot.path(), first + i);
          }
        }
      }
    }
    return null;
  }

  /** The reference from the key of a conditional weak table to its value. */
  private Via dependentOf(int key) {
    String what = "what a conditional weak table keeps for a " + snapshot.typeName(key);
    return new Via(Via.Kind.SERVICE, "", what, -1);
  }

  @Override
  public Via ofArray(int node) {
    boolean plain =
        layout(node).rank() > 0
            && Signature.isReference(layout(node).element())
            && !layouts.variables.containsKey(node);
    return plain ? new Via(Via.Kind.ELEMENT, "", "", -1) : null;
  }

  @Override
  public List<FieldValue> fields(int node, int atMost) throws IOException {
    TypeLayouts.Layout layout = layout(node);
    long at = address(node);
    List<FieldValue> values = new ArrayList<>();
    if (layout.rank() > 0) {
      Map<Long, Via> variables = layouts.variables.getOrDefault(node, Map.of());
      long count = elements(node, layout);
      for (long i = 0; i < count && values.size() < atMost; i++) {
        long element = at + layout.data() + i * layout.componentBytes();
        Via via = variables.getOrDefault(element - at, new Via(Via.Kind.ELEMENT, "", "", i));
        if (layout.element() != 0) {
          values.add(
              this.values.value(
                  via, layout.elementType(), layout.element(), layout.names(), element));
          continue;
        }
        for (TypeLayouts.Slot slot : layout.slots()) {
          values.add(
              this.values.value(
                  new Via(Via.Kind.ELEMENT, "", slot.path(), i),
                  slot.type(),
                  slot.element(),
                  slot.names(),
                  element + slot.offset()));
        }
      }
      return values;
    }
    if (layout.element() != 0) {
      Via via = new Via(Via.Kind.FIELD, layout.elementType(), "value", -1);
      values.add(
          this.values.value(via, layout.elementType(), layout.element(), layout.names(), at + 8));
    }
    for (TypeLayouts.Slot slot : layout.slots()) {
      values.add(
          this.values.value(
              slot.via(), slot.type(), slot.element(), slot.names(), at + slot.offset()));
    }
    return values;
  }

  @Override
  public String text(int node, int atMost) throws IOException {
    String type = snapshot.typeName(node);
    if (type.equals(STRING)) {
      long length = memory.u4(address(node) + LENGTH_OFFSET);
      long room = (snapshot.shallowBytes(node) - TEXT_OFFSET) / Character.BYTES;
      int units =
          (int) Math.max(0, Math.min(Math.min(length, room), Math.min(atMost, LONGEST_TEXT)));
      byte[] raw = memory.bytes(address(node) + TEXT_OFFSET, units * Character.BYTES);
      return new String(raw, StandardCharsets.UTF_16LE);
    }
    TypeLayouts.Layout layout = layout(node);
    if (layout.rank() == 0 && layout.element() != 0) {
      return this.values.number(layout.element(), layout.names(), address(node) + 8);
    }
    if (layout.rank() == 1 && layout.element() == Signature.CHAR) {
      int units = (int) Math.min(elements(node, layout), Math.min(atMost, LONGEST_TEXT));
      byte[] raw = memory.bytes(address(node) + layout.data(), units * Character.BYTES);
      return new String(raw, StandardCharsets.UTF_16LE);
    }
    if (type.equals("System.Threading.Thread")) {
      int name = target(node, "_name");
      return name < 0 ? null : text(name, atMost);
    }
    return null;
  }

  @Override
  public int textBytes(int node, Bytes sink) throws IOException {
    if (!isString(node)) {
      return 0;
    }
    long length = memory.u4(address(node) + LENGTH_OFFSET);
    long room = snapshot.shallowBytes(node) - TEXT_OFFSET;
    byte[] piece = text.length == 0 ? text = new byte[PIECE] : text;
    long left = Math.max(0, Math.min(room, length * Character.BYTES));
    for (long at = address(node) + TEXT_OFFSET; left > 0; ) {
      int some = (int) Math.min(left, PIECE);
      memory.read(at, piece, 0, some);
      sink.bytes(piece, 0, some);
      at += some;
      left -= some;
    }
    return Character.BYTES;
  }

  @Override
  public int characterBytes(int node, String text) {
    return Character.BYTES;
  }

  @Override
  public boolean isString(int node) {
    return snapshot.typeName(node).equals(STRING);
  }

  @Override
  public String label(int node, int atMost) throws IOException {
    if (snapshot.strength(node) == Strength.FINALIZER) {
      return "waits for its finalizer";
    }
    if (snapshot.types().get(snapshot.type(node)).is(TypeInfo.Trait.DELEGATE)) {
      return method(node);
    }
    String text = text(node, atMost + 1);
    if (text != null) {
      return layout(node).rank() == 0 && layout(node).element() != 0
          ? text
          : ObjectReader.quoted(text, atMost);
    }
    String area = area(node);
    return area.startsWith("generation") ? "" : area;
  }

  /** The method that a delegate calls, or "". */
  private String method(int node) throws IOException {
    long plain = -1;
    long other = -1;
    for (TypeLayouts.Slot slot : layout(node).slots()) {
      plain = slot.path().equals("_methodPtr") ? slot.offset() : plain;
      other = slot.path().equals("_methodPtrAux") ? slot.offset() : other;
    }
    long called = plain < 0 ? 0 : Methods.description(memory, address(node), plain, other);
    return layouts.methods.getOrDefault(called, "");
  }

  @Override
  public int elements(int node, Bytes sink) throws IOException {
    TypeLayouts.Layout layout = layout(node);
    int each = Signature.bytes(layout.element());
    if (layout.rank() == 0 || each == 0) {
      return 0;
    }
    byte[] piece = new byte[PIECE];
    long left = elements(node, layout) * layout.componentBytes();
    for (long at = address(node) + layout.data(); left > 0; ) {
      int some = (int) Math.min(left, PIECE);
      memory.read(at, piece, 0, some);
      sink.bytes(piece, 0, some);
      at += some;
      left -= some;
    }
    return each;
  }

  @Override
  public long nulls(int node) throws IOException {
    TypeLayouts.Layout layout = layout(node);
    if (layout.rank() == 0 || !Signature.isReference(layout.element())) {
      return -1;
    }
    long nulls = 0;
    long count = elements(node, layout);
    for (long i = 0; i < count; i++) {
      nulls += memory.u8(address(node) + layout.data() + 8 * i) == 0 ? 1 : 0;
    }
    return nulls;
  }

  @Override
  public int weakKey(int node) {
    return -1;
  }

  @Override
  public long length(int node) throws IOException {
    return layout(node).rank() > 0 || isString(node)
        ? memory.u4(address(node) + LENGTH_OFFSET)
        : -1;
  }

  @Override
  public List<Area> areas() {
    List<Area> areas = new ArrayList<>();
    for (TypeLayouts.Area area : layouts.areas) {
      Free free = new Free(area.blocks(), area.free(), area.largest());
      areas.add(new Area(area.name(), area.used(), area.reserved(), free));
    }
    return areas;
  }

  @Override
  public List<FreeSize> freeSizes() {
    return layouts.freeSizes.stream()
        .filter(size -> size[1] > 0)
        .map(size -> new FreeSize(size[0], size[1], size[2]))
        .toList();
  }

  @Override
  public Perhaps onStacksAlone() {
    return new Perhaps(layouts.stackObjects, layouts.stackBytes);
  }

  @Override
  public String area(int node) throws IOException {
    return HeapParts.of(snapshot, node);
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
      return new Value(true, -1, this.values.number(layout.element(), layout.names(), at));
    }
    for (TypeLayouts.Slot slot : layout.slots()) {
      if (slot.path().equals(path) || path.isEmpty()) {
        return value(slot, at + slot.offset());
      }
    }
    return Value.NONE;
  }

  private Value value(TypeLayouts.Slot slot, long at) throws IOException {
    FieldValue value = this.values.value(slot.via(), slot.type(), slot.element(), slot.names(), at);
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

  @Override
  public Entries entries(int node, int atMost) throws IOException {
    try {
      return new LibraryCollections(this, snapshot, atMost).entries(node);
    } catch (InputException e) {
      // a collection that was being changed, or a dump that lacks a page of it
      return null;
    }
  }

  @Override
  public IntList containers(int atLeast) throws IOException {
    IntList found = new IntList();
    Set<Integer> arrays = new HashSet<>();
    for (int t = 0; t < snapshot.types().size(); t++) {
      TypeLayouts.Layout layout = layouts.layouts.get(t);
      boolean holds =
          Signature.isReference(layout.element())
              || layout.slots().stream().anyMatch(s -> Signature.isReference(s.element()));
      if (layout.rank() > 0 && holds) {
        arrays.add(t);
      }
    }
    for (int n = 0; n < snapshot.objectCount(); n++) {
      if (arrays.contains(snapshot.type(n))
          && snapshot.shallowBytes(n) >= (long) atLeast * layout(n).componentBytes()) {
        found.add(n);
      }
    }
    return found;
  }

  @Override
  public long size(int node) throws IOException {
    return layout(node).rank() > 0 ? count(node) : -1;
  }

  @Override
  public void close() throws IOException {
    source.close();
  }
}
