package lipsanon.format.elfcore;

import java.io.ByteArrayInputStream;
import java.io.DataInputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Consumer;
import lipsanon.array.IntList;
import lipsanon.format.dotnet.HeapParts;
import lipsanon.format.metadata.Signature;
import lipsanon.graph.Strength;
import lipsanon.index.FieldValue;
import lipsanon.index.ObjectReader;
import lipsanon.index.Reference;
import lipsanon.index.RootInfo;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;
import lipsanon.index.Via;
import lipsanon.io.ByteSource;
import lipsanon.io.InputException;

/** Shows single objects of a core dump: their fields, values, texts and entries. */
public final class ElfCoreDetail implements ObjectReader {
  private static final int PIECE = 1 << 16;
  private static final int LONGEST_TEXT = 1 << 20;
  private static final int TEXT_OFFSET = 12;
  private static final String STRING = "System.String";

  private final Snapshot snapshot;
  private final ByteSource source;
  private final CoreMemory memory;
  private final TypeLayouts layouts;
  private final CoreObjects objects;
  private final CoreReferences references;
  private byte[] text = {};

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
    this.objects = new CoreObjects(snapshot, memory, layouts);
    this.references = new CoreReferences(snapshot, objects);
  }

  @Override
  public void references(int node, Consumer<Reference> sink) throws IOException {
    references.references(node, sink);
  }

  @Override
  public Via viaTo(int from, int to) throws IOException {
    return references.viaTo(from, to);
  }

  @Override
  public Via ofArray(int node) {
    boolean plain =
        objects.layout(node).rank() > 0
            && Signature.isReference(objects.layout(node).element())
            && !layouts.variables.containsKey(node);
    return plain ? new Via(Via.Kind.ELEMENT, "", "", -1) : null;
  }

  @Override
  public List<FieldValue> fields(int node, int atMost) throws IOException {
    TypeLayouts.Layout layout = objects.layout(node);
    long at = objects.address(node);
    List<FieldValue> values = new ArrayList<>();
    if (layout.rank() > 0) {
      Map<Long, Via> variables = layouts.variables.getOrDefault(node, Map.of());
      long count = objects.elements(node, layout);
      for (long i = 0; i < count && values.size() < atMost; i++) {
        long element = at + layout.data() + i * layout.componentBytes();
        Via via = variables.getOrDefault(element - at, new Via(Via.Kind.ELEMENT, "", "", i));
        if (layout.element() != 0) {
          values.add(
              objects.values.value(
                  via, layout.elementType(), layout.element(), layout.names(), element));
          continue;
        }
        for (TypeLayouts.Slot slot : layout.slots()) {
          values.add(
              objects.values.value(
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
          objects.values.value(
              via, layout.elementType(), layout.element(), layout.names(), at + 8));
    }
    for (TypeLayouts.Slot slot : layout.slots()) {
      values.add(
          objects.values.value(
              slot.via(), slot.type(), slot.element(), slot.names(), at + slot.offset()));
    }
    return values;
  }

  @Override
  public String text(int node, int atMost) throws IOException {
    String type = snapshot.typeName(node);
    if (type.equals(STRING)) {
      long length = memory.u4(objects.address(node) + CoreObjects.LENGTH_OFFSET);
      long room = (snapshot.shallowBytes(node) - TEXT_OFFSET) / Character.BYTES;
      int units =
          (int) Math.max(0, Math.min(Math.min(length, room), Math.min(atMost, LONGEST_TEXT)));
      byte[] raw = memory.bytes(objects.address(node) + TEXT_OFFSET, units * Character.BYTES);
      return new String(raw, StandardCharsets.UTF_16LE);
    }
    TypeLayouts.Layout layout = objects.layout(node);
    if (layout.rank() == 0 && layout.element() != 0) {
      return objects.values.number(layout.element(), layout.names(), objects.address(node) + 8);
    }
    if (layout.rank() == 1 && layout.element() == Signature.CHAR) {
      int units = (int) Math.min(objects.elements(node, layout), Math.min(atMost, LONGEST_TEXT));
      byte[] raw = memory.bytes(objects.address(node) + layout.data(), units * Character.BYTES);
      return new String(raw, StandardCharsets.UTF_16LE);
    }
    if (type.equals("System.Threading.Thread")) {
      int name = objects.target(node, "_name");
      return name < 0 ? null : text(name, atMost);
    }
    return null;
  }

  @Override
  public int textBytes(int node, Bytes sink) throws IOException {
    if (!isString(node)) {
      return 0;
    }
    long length = memory.u4(objects.address(node) + CoreObjects.LENGTH_OFFSET);
    long room = snapshot.shallowBytes(node) - TEXT_OFFSET;
    byte[] piece = text.length == 0 ? text = new byte[PIECE] : text;
    long left = Math.max(0, Math.min(room, length * Character.BYTES));
    for (long at = objects.address(node) + TEXT_OFFSET; left > 0; ) {
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
      return RootInfo.WAITING;
    }
    if (snapshot.types().get(snapshot.type(node)).is(TypeInfo.Trait.DELEGATE)) {
      return method(node);
    }
    String text = text(node, atMost + 1);
    if (text != null) {
      return objects.layout(node).rank() == 0 && objects.layout(node).element() != 0
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
    for (TypeLayouts.Slot slot : objects.layout(node).slots()) {
      plain = slot.path().equals("_methodPtr") ? slot.offset() : plain;
      other = slot.path().equals("_methodPtrAux") ? slot.offset() : other;
    }
    long called = plain < 0 ? 0 : Methods.description(memory, objects.address(node), plain, other);
    return layouts.methods.getOrDefault(called, "");
  }

  @Override
  public int elements(int node, Bytes sink) throws IOException {
    TypeLayouts.Layout layout = objects.layout(node);
    int each = Signature.bytes(layout.element());
    if (layout.rank() == 0 || each == 0) {
      return 0;
    }
    byte[] piece = new byte[PIECE];
    long left = objects.elements(node, layout) * layout.componentBytes();
    for (long at = objects.address(node) + layout.data(); left > 0; ) {
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
    TypeLayouts.Layout layout = objects.layout(node);
    if (layout.rank() == 0 || !Signature.isReference(layout.element())) {
      return -1;
    }
    long nulls = 0;
    long count = objects.elements(node, layout);
    for (long i = 0; i < count; i++) {
      nulls += memory.u8(objects.address(node) + layout.data() + 8 * i) == 0 ? 1 : 0;
    }
    return nulls;
  }

  @Override
  public int weakKey(int node) {
    return -1;
  }

  @Override
  public long length(int node) throws IOException {
    return objects.layout(node).rank() > 0 || isString(node)
        ? memory.u4(objects.address(node) + CoreObjects.LENGTH_OFFSET)
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

  @Override
  public Entries entries(int node, int atMost) throws IOException {
    try {
      return new LibraryCollections(objects, snapshot, atMost).entries(node);
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
          && snapshot.shallowBytes(n) >= (long) atLeast * objects.layout(n).componentBytes()) {
        found.add(n);
      }
    }
    return found;
  }

  @Override
  public long size(int node) throws IOException {
    return objects.layout(node).rank() > 0 ? objects.count(node) : -1;
  }

  @Override
  public void close() throws IOException {
    source.close();
  }
}
