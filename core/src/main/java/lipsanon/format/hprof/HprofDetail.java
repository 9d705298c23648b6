package lipsanon.format.hprof;

import java.io.ByteArrayInputStream;
import java.io.DataInputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Consumer;
import lipsanon.index.FieldValue;
import lipsanon.index.NodeCursor;
import lipsanon.index.ObjectReader;
import lipsanon.index.Reference;
import lipsanon.index.RootInfo;
import lipsanon.index.Snapshot;
import lipsanon.index.Via;
import lipsanon.io.ByteSource;
import lipsanon.io.CorruptInputException;
import lipsanon.io.Window;

/** Single objects of an HPROF dump, read from the dump itself. */
public final class HprofDetail implements ObjectReader {
  private static final Via ELEMENT = new Via(Via.Kind.ELEMENT, "", "", -1);
  private static final Via CLASS_EDGE = new Via(Via.Kind.INTERNAL, "", "class", -1);

  /** The VM's own thread that a capture makes it start; it stays until the VM ends. */
  private static final String TOOLS_THREAD = "Attach Listener";

  private static final int PIECE = 1 << 13;

  private static final int LONGEST_TEXT_BYTES = 1 << 20;

  private final Snapshot snapshot;
  private final NodeCursor nodes;
  private final ByteSource source;
  private final Window window;
  private final int idSize;
  private final HprofTypes types;
  private final Map<Integer, ClassInfo> classOfNode = new HashMap<>();
  private final Map<Integer, List<Slot>> slots = new HashMap<>();
  private final Map<Integer, List<RootInfo>> localsOfThread = new HashMap<>();

  /** The type of strings once one was asked for, and where its fields stand. */
  private int stringType = -1;

  private int valueOffset = -1;
  private int coderOffset = -1;

  /** A field of an instance: where it stands among the field bytes. */
  private record Slot(Via via, int type, int offset) {}

  private record Header(int tag, int type, int count, int elementType) {}

  /** Over an open source, with what {@link HprofReader} left in the index. */
  public HprofDetail(Snapshot snapshot, ByteSource source, byte[] detail) throws IOException {
    this.snapshot = snapshot;
    this.nodes = snapshot.cursor();
    this.source = source;
    this.window = new Window(source, 1 << 14);
    DataInputStream in = new DataInputStream(new ByteArrayInputStream(detail));
    this.idSize = in.readInt();
    this.types = HprofTypes.read(in, idSize);
    for (int t = 0; t < snapshot.types().size(); t++) {
      int node = snapshot.types().get(t).classNode();
      if (node >= 0 && types.classOf(t) != null) {
        classOfNode.put(node, types.classOf(t));
      }
    }
    for (RootInfo root : snapshot.roots()) {
      if (root.thread() >= 0) {
        localsOfThread.computeIfAbsent(root.thread(), key -> new ArrayList<>()).add(root);
      }
    }
  }

  private Header header(int node) throws IOException {
    long position = nodes.position(node);
    window.seek(position, source.size());
    window.need(1);
    int tag = window.u1();
    switch (tag) {
      case HprofFormat.INSTANCE -> {
        window.need(8 + 2 * idSize);
        id();
        window.i4();
        int type = types.ofClass(id());
        int length = window.i4();
        window.need(length);
        return new Header(tag, type < 0 ? types.unknownType() : type, length, 0);
      }
      case HprofFormat.OBJECT_ARRAY -> {
        window.need(8 + 2 * idSize);
        id();
        window.i4();
        int count = window.i4();
        int type = types.ofClass(id());
        return new Header(tag, type, count, HprofFormat.OBJECT);
      }
      case HprofFormat.PRIMITIVE_ARRAY -> {
        window.need(9 + idSize);
        id();
        window.i4();
        return new Header(tag, nodes.type(node), window.i4(), window.u1());
      }
      case HprofFormat.CLASS_DUMP -> {
        return new Header(tag, snapshot.type(node), 0, 0);
      }
      default ->
          throw new CorruptInputException(
              source.name(), position, "tag " + tag, "the record of an object (index it again)");
    }
  }

  private long id() {
    return idSize == 8 ? window.i8() : window.u4();
  }

  private long peekId(int offset) {
    return idSize == 8 ? window.peekLong(offset) : window.peekUnsignedInt(offset);
  }

  private List<Slot> slots(int type) {
    List<Slot> known = slots.get(type);
    if (known == null) {
      known = new ArrayList<>();
      int offset = 0;
      for (ClassInfo c : types.chain(type)) {
        for (ClassInfo.Field field : c.fields()) {
          Via via = new Via(Via.Kind.FIELD, c.name(), field.name(), -1);
          known.add(new Slot(via, field.type(), offset));
          offset += HprofFormat.bytes(field.type(), idSize);
        }
      }
      slots.put(type, known);
    }
    return known;
  }

  @Override
  public void references(int node, Consumer<Reference> sink) throws IOException {
    Header header = header(node);
    switch (header.tag) {
      case HprofFormat.INSTANCE -> instanceReferences(header, sink);
      case HprofFormat.OBJECT_ARRAY -> {
        for (int i = 0; i < header.count; i++) {
          window.need(idSize);
          tell(id(), Reference.Kind.STRONG, new Via(Via.Kind.ELEMENT, "", "", i), sink);
        }
      }
      case HprofFormat.CLASS_DUMP -> classReferences(classOfNode.get(node), sink);
      default -> {}
    }
    if (header.tag == HprofFormat.INSTANCE || header.tag == HprofFormat.OBJECT_ARRAY) {
      int classNode = header.type < 0 ? -1 : snapshot.types().get(header.type).classNode();
      if (classNode >= 0) {
        sink.accept(new Reference(classNode, Reference.Kind.STRONG, CLASS_EDGE));
      }
    }
    for (RootInfo local : localsOfThread.getOrDefault(node, List.of())) {
      sink.accept(new Reference(local.node(), Reference.Kind.STRONG, localVia(local)));
    }
  }

  private static Via localVia(RootInfo local) {
    return new Via(Via.Kind.LOCAL, local.detail(), "", -1);
  }

  private void instanceReferences(Header header, Consumer<Reference> sink) {
    int referent = types.referentOffset(header.type);
    for (Slot slot : slots(header.type)) {
      if (slot.type == HprofFormat.OBJECT && slot.offset + idSize <= header.count) {
        Reference.Kind kind = Reference.Kind.STRONG;
        if (slot.offset == referent) {
          kind =
              switch (types.kind(header.type)) {
                case WEAK -> Reference.Kind.WEAK;
                case SOFT -> Reference.Kind.SOFT;
                case FINALIZER -> Reference.Kind.FINALIZER;
                case NONE -> Reference.Kind.STRONG;
              };
        }
        tell(peekId(slot.offset), kind, slot.via, sink);
      }
    }
  }

  private void classReferences(ClassInfo c, Consumer<Reference> sink) {
    if (c == null) {
      return;
    }
    internal(c.superId(), "superclass", sink);
    internal(c.loader(), "class loader", sink);
    internal(c.signers(), "signers", sink);
    internal(c.domain(), "protection domain", sink);
    for (ClassInfo.Static s : c.statics()) {
      if (s.type() == HprofFormat.OBJECT) {
        tell(s.value(), Reference.Kind.STRONG, viaOf(c, s), sink);
      }
    }
  }

  /** The VM's own notes stand among the statics, with names in angle brackets. */
  private static Via viaOf(ClassInfo c, ClassInfo.Static s) {
    return s.name().startsWith("<")
        ? new Via(Via.Kind.PART, "", s.name().replaceAll("[<>]", "").replace('_', ' '), -1)
        : new Via(Via.Kind.STATIC, c.name(), s.name(), -1);
  }

  private void internal(long id, String name, Consumer<Reference> sink) {
    tell(id, Reference.Kind.STRONG, new Via(Via.Kind.INTERNAL, "", name, -1), sink);
  }

  private void tell(long id, Reference.Kind kind, Via via, Consumer<Reference> sink) {
    if (id != 0) {
      int target = snapshot.nodeOf(id);
      if (target >= 0) {
        sink.accept(new Reference(target, kind, via));
      }
    }
  }

  @Override
  public Via viaTo(int from, int to) throws IOException {
    Header header = header(from);
    long wanted = snapshot.rawId(to);
    switch (header.tag) {
      case HprofFormat.INSTANCE -> {
        int referent = types.referentOffset(header.type);
        for (Slot slot : slots(header.type)) {
          if (slot.type == HprofFormat.OBJECT
              && slot.offset != referent
              && slot.offset + idSize <= header.count
              && peekId(slot.offset) == wanted) {
            return slot.via;
          }
        }
        if (referent >= 0 && keepsReferent(header.type, to) && peekId(referent) == wanted) {
          return slots(header.type).stream()
              .filter(slot -> slot.offset == referent)
              .findFirst()
              .orElseThrow()
              .via;
        }
      }
      case HprofFormat.OBJECT_ARRAY -> {
        int index = elementOf(wanted, header.count);
        if (index >= 0) {
          return new Via(Via.Kind.ELEMENT, "", "", index);
        }
      }
      case HprofFormat.CLASS_DUMP -> {
        Via[] found = new Via[1];
        classReferences(
            classOfNode.get(from),
            reference -> {
              boolean better = found[0] == null || found[0].kind() == Via.Kind.INTERNAL;
              if (reference.target() == to && better) {
                found[0] = reference.via();
              }
            });
        if (found[0] != null) {
          return found[0];
        }
      }
      default -> {}
    }
    for (RootInfo local : localsOfThread.getOrDefault(from, List.of())) {
      if (local.node() == to) {
        return localVia(local);
      }
    }
    boolean isClass =
        header.type >= 0
            && header.tag != HprofFormat.CLASS_DUMP
            && snapshot.types().get(header.type).classNode() == to;
    return isClass ? CLASS_EDGE : null;
  }

  /** The place of an identifier in the array that begins here, or -1. */
  private int elementOf(long wanted, int count) throws IOException {
    for (int i = 0, fit; i < count; i += fit) {
      window.need(idSize);
      int at = window.begin();
      fit = Math.min(count - i, (window.limit() - at) / idSize);
      int found = Elements.find(window.bytes(), at, fit, idSize, wanted);
      if (found >= 0) {
        return i + found;
      }
      window.goTo(at + fit * idSize);
    }
    return -1;
  }

  private boolean keepsReferent(int type, int to) {
    return types.kind(type) == HprofTypes.ReferenceKind.SOFT
        && snapshot.strength(to) != lipsanon.graph.Strength.STRONG;
  }

  @Override
  public List<FieldValue> fields(int node, int atMost) throws IOException {
    Header header = header(node);
    List<FieldValue> values = new ArrayList<>();
    switch (header.tag) {
      case HprofFormat.INSTANCE -> {
        for (Slot slot : slots(header.type)) {
          if (slot.offset + HprofFormat.bytes(slot.type, idSize) <= header.count) {
            values.add(value(slot.via, slot.type, bits(slot)));
          }
        }
      }
      case HprofFormat.OBJECT_ARRAY -> {
        for (int i = 0; i < Math.min(header.count, atMost); i++) {
          window.need(idSize);
          values.add(value(new Via(Via.Kind.ELEMENT, "", "", i), HprofFormat.OBJECT, id()));
        }
      }
      case HprofFormat.PRIMITIVE_ARRAY -> {
        for (int i = 0; i < Math.min(header.count, atMost); i++) {
          window.need(8);
          Via via = new Via(Via.Kind.ELEMENT, "", "", i);
          values.add(value(via, header.elementType, next(header.elementType)));
        }
      }
      default -> {
        ClassInfo c = classOfNode.get(node);
        for (ClassInfo.Static s : c == null ? new ClassInfo.Static[0] : c.statics()) {
          values.add(value(viaOf(c, s), s.type(), s.value()));
        }
      }
    }
    return values;
  }

  private long bits(Slot slot) {
    return switch (slot.type) {
      case HprofFormat.OBJECT -> peekId(slot.offset);
      case HprofFormat.BOOLEAN, HprofFormat.BYTE -> window.peekByte(slot.offset);
      case HprofFormat.CHAR -> window.peekShort(slot.offset) & 0xffff;
      case HprofFormat.SHORT -> window.peekShort(slot.offset);
      case HprofFormat.INT, HprofFormat.FLOAT -> (int) window.peekUnsignedInt(slot.offset);
      default -> window.peekLong(slot.offset);
    };
  }

  private long next(int type) {
    return switch (type) {
      case HprofFormat.BOOLEAN, HprofFormat.BYTE -> (byte) window.u1();
      case HprofFormat.CHAR -> window.u2();
      case HprofFormat.SHORT -> (short) window.u2();
      case HprofFormat.INT, HprofFormat.FLOAT -> window.i4();
      default -> window.i8();
    };
  }

  private FieldValue value(Via via, int type, long bits) {
    if (type == HprofFormat.OBJECT) {
      int target = bits == 0 ? -1 : snapshot.nodeOf(bits);
      String text = bits == 0 ? "null" : "0x" + Long.toHexString(bits);
      return new FieldValue(
          via, "reference", target < 0 && bits != 0 ? text + " (absent)" : text, target);
    }
    String text =
        switch (type) {
          case HprofFormat.BOOLEAN -> bits == 0 ? "false" : "true";
          case HprofFormat.CHAR -> charText((char) bits);
          case HprofFormat.FLOAT -> Float.toString(Float.intBitsToFloat((int) bits));
          case HprofFormat.DOUBLE -> Double.toString(Double.longBitsToDouble(bits));
          default -> Long.toString(bits);
        };
    return new FieldValue(via, HprofFormat.primitive(type), text, -1);
  }

  private static String charText(char c) {
    return c < ' ' || c == 0x7f ? String.format("'\\u%04x'", (int) c) : "'" + c + "'";
  }

  @Override
  public long length(int node) throws IOException {
    Header header = header(node);
    boolean array =
        header.tag == HprofFormat.OBJECT_ARRAY || header.tag == HprofFormat.PRIMITIVE_ARRAY;
    return array ? header.count & 0xffffffffL : -1;
  }

  @Override
  public int elements(int node, Bytes sink) throws IOException {
    Header header = header(node);
    if (header.tag != HprofFormat.PRIMITIVE_ARRAY) {
      return 0;
    }
    int each = HprofFormat.bytes(header.elementType, idSize);
    long left = (header.count & 0xffffffffL) * each;
    while (left > 0) {
      int some = (int) Math.min(left, PIECE);
      window.need(some);
      sink.bytes(window.bytes(), window.begin(), window.begin() + some);
      window.goTo(window.begin() + some);
      left -= some;
    }
    return each;
  }

  @Override
  public long nulls(int node) throws IOException {
    Header header = header(node);
    if (header.tag != HprofFormat.OBJECT_ARRAY) {
      return -1;
    }
    long nulls = 0;
    for (long i = 0; i < (header.count & 0xffffffffL); i++) {
      window.need(idSize);
      nulls += id() == 0 ? 1 : 0;
    }
    return nulls;
  }

  @Override
  public int weakKey(int node) throws IOException {
    Header header = header(node);
    if (header.tag != HprofFormat.INSTANCE) {
      return -1;
    }
    int referent = types.referentOffset(header.type);
    boolean weak = types.kind(header.type) == HprofTypes.ReferenceKind.WEAK;
    long id = weak && referent >= 0 ? peekId(referent) : 0;
    return id == 0 ? -1 : snapshot.nodeOf(id);
  }

  @Override
  public Via ofArray(int node) {
    return snapshot.types().get(snapshot.type(node)).array() ? ELEMENT : null;
  }

  @Override
  public String text(int node, int atMost) throws IOException {
    ClassInfo c = classOfNode.get(node);
    if (c != null) {
      return "class " + c.name();
    }
    return switch (snapshot.typeName(node)) {
      case "java.lang.String" -> string(node, atMost);
      case "java.lang.Integer",
              "java.lang.Long",
              "java.lang.Short",
              "java.lang.Byte",
              "java.lang.Double",
              "java.lang.Float",
              "java.lang.Boolean",
              "java.lang.Character" ->
          field(node, "value");
      case "char[]" -> characters(node, atMost);
      default -> threadName(node, atMost);
    };
  }

  @Override
  public int textBytes(int node, Bytes sink) throws IOException {
    int type = nodes.type(node);
    if (stringType != type) {
      if (!isString(node)) {
        return 0;
      }
      stringType = type;
      valueOffset = -1;
      coderOffset = -1;
      for (Slot slot : slots(type)) {
        valueOffset = slot.via().name().equals("value") ? slot.offset() : valueOffset;
        coderOffset = slot.via().name().equals("coder") ? slot.offset() : coderOffset;
      }
    }
    Header header = header(node);
    if (valueOffset < 0 || coderOffset < 0 || header.tag != HprofFormat.INSTANCE) {
      return 0;
    }
    if (header.count < Math.max(valueOffset + idSize, coderOffset + 1)) {
      return 0;
    }
    int width = window.peekByte(coderOffset) == 1 ? Character.BYTES : 1;
    long id = peekId(valueOffset);
    int value = id == 0 ? -1 : nodes.nodeNear(id, node);
    return value >= 0 && elements(value, sink) > 0 ? width : 0;
  }

  @Override
  public int characterBytes(int node, String text) throws IOException {
    int value = target(node, "value");
    // before compact strings
    boolean pairs = value >= 0 && snapshot.typeName(value).equals("char[]");
    return pairs ? Character.BYTES : ObjectReader.super.characterBytes(node, text);
  }

  @Override
  public boolean isString(int node) {
    return snapshot.typeName(node).equals("java.lang.String");
  }

  @Override
  public String label(int node, int atMost) throws IOException {
    String text = text(node, atMost + 1);
    if (text == null) {
      return "";
    }
    if (text.equals(TOOLS_THREAD) && !isString(node)) {
      return ObjectReader.quoted(text, atMost) + " (listens for tools such as this one)";
    }
    return classOfNode.containsKey(node) ? text : ObjectReader.quoted(text, atMost);
  }

  private String threadName(int node, int atMost) throws IOException {
    for (ClassInfo c : types.chain(snapshot.type(node))) {
      if (c.name().equals("java.lang.Thread")) {
        int name = target(node, "name");
        return name < 0 ? null : text(name, atMost);
      }
    }
    return null;
  }

  private String field(int node, String name) throws IOException {
    for (FieldValue field : fields(node, 0)) {
      if (field.via().name().equals(name)) {
        return field.value();
      }
    }
    return null;
  }

  /** The object that a field refers to, the most special class first; -1 for null. */
  int target(int node, String name) throws IOException {
    Header header = header(node);
    if (header.tag != HprofFormat.INSTANCE) {
      return -1;
    }
    for (Slot slot : slots(header.type)) {
      if (slot.type() == HprofFormat.OBJECT && slot.via().name().equals(name)) {
        window.need(Math.min(header.count, slot.offset() + idSize));
        return slot.offset() + idSize > header.count
            ? -1
            : snapshot.nodeNear(peekId(slot.offset()), node);
      }
    }
    return -1;
  }

  /** The value of a numeric field, or -1. */
  long number(int node, String name) throws IOException {
    String text = field(node, name);
    try {
      return text == null ? -1 : Long.parseLong(text);
    } catch (NumberFormatException e) {
      return -1;
    }
  }

  /** The element of an array of references, -1 for null. */
  int element(int array, long index) throws IOException {
    Header header = header(array);
    if (header.tag != HprofFormat.OBJECT_ARRAY || index < 0 || index >= header.count) {
      return -1;
    }
    window.skip(index * idSize);
    window.need(idSize);
    long id = id();
    return id == 0 ? -1 : snapshot.nodeOf(id);
  }

  private String string(int node, int atMost) throws IOException {
    int value = target(node, "value");
    if (value < 0) {
      return "";
    }
    if (snapshot.typeName(value).equals("char[]")) {
      return characters(value, atMost);
    }
    boolean utf16 = isUtf16(node);
    Header header = header(value);
    if (header.tag != HprofFormat.PRIMITIVE_ARRAY) {
      return "";
    }
    int bytes =
        (int) Math.min(Math.min(header.count, LONGEST_TEXT_BYTES), atMost * (utf16 ? 2L : 1));
    window.need(bytes);
    byte[] raw = new byte[bytes];
    window.copy(raw, 0, bytes);
    return new String(raw, utf16 ? StandardCharsets.UTF_16LE : StandardCharsets.ISO_8859_1);
  }

  /** Whether a string's bytes are pairs, as its field {@code coder} says. */
  private boolean isUtf16(int node) throws IOException {
    Header header = header(node);
    for (Slot slot : slots(header.type)) {
      if (slot.via().name().equals("coder") && slot.offset() < header.count) {
        window.need(slot.offset() + 1);
        return window.peekByte(slot.offset()) == 1;
      }
    }
    return false;
  }

  private String characters(int node, int atMost) throws IOException {
    Header header = header(node);
    StringBuilder text = new StringBuilder();
    for (int i = 0; i < Math.min(header.count, Math.min(atMost, LONGEST_TEXT_BYTES)); i++) {
      window.need(2);
      text.append((char) window.u2());
    }
    return text.toString();
  }

  @Override
  public Entries entries(int node, int atMost) throws IOException {
    return new JdkCollections(this, snapshot).entries(node, atMost);
  }

  @Override
  public void close() throws IOException {
    source.close();
  }
}
