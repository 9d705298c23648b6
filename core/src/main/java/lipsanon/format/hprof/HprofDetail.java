package lipsanon.format.hprof;

import java.io.ByteArrayInputStream;
import java.io.DataInputStream;
import java.io.IOException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Consumer;
import lipsanon.index.FieldValue;
import lipsanon.index.ObjectReader;
import lipsanon.index.Reference;
import lipsanon.index.Snapshot;
import lipsanon.index.Via;
import lipsanon.io.ByteSource;
import lipsanon.io.Window;

/** Single objects of an HPROF dump, read from the dump itself. */
public final class HprofDetail implements ObjectReader {
  private static final Via ELEMENT = new Via(Via.Kind.ELEMENT, "", "", -1);

  /** The VM's own thread that a capture makes it start; it stays until the VM ends. */
  private static final String TOOLS_THREAD = "Attach Listener";

  private static final int PIECE = 1 << 13;

  private final Snapshot snapshot;
  private final ByteSource source;
  private final ObjectRecords records;
  private final Window window;
  private final int idSize;
  private final HprofTypes types;
  private final Map<Integer, ClassInfo> classOfNode = new HashMap<>();
  private final HprofReferences references;
  private final HprofTexts texts;
  private final ClojureVars vars;

  /** Over an open source, with what {@link HprofReader} left in the index. */
  public HprofDetail(Snapshot snapshot, ByteSource source, byte[] detail) throws IOException {
    this.snapshot = snapshot;
    this.source = source;
    DataInputStream in = new DataInputStream(new ByteArrayInputStream(detail));
    this.idSize = in.readInt();
    this.types = HprofTypes.read(in, idSize);
    this.records = new ObjectRecords(snapshot, source, idSize, types);
    this.window = records.window;
    for (int t = 0; t < snapshot.types().size(); t++) {
      int node = snapshot.types().get(t).classNode();
      if (node >= 0 && types.classOf(t) != null) {
        classOfNode.put(node, types.classOf(t));
      }
    }
    this.vars = new ClojureVars(snapshot, this);
    this.references = new HprofReferences(snapshot, records, classOfNode, vars);
    this.texts = new HprofTexts(snapshot, this, records);
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
  public List<FieldValue> fields(int node, int atMost) throws IOException {
    ObjectRecords.Header header = records.header(node);
    List<FieldValue> values = new ArrayList<>();
    switch (header.tag()) {
      case HprofFormat.INSTANCE -> {
        for (ObjectRecords.Slot slot : records.slots(header.type())) {
          if (slot.offset() + HprofFormat.bytes(slot.type(), idSize) <= header.count()) {
            values.add(value(slot.via(), slot.type(), records.bits(slot)));
          }
        }
      }
      case HprofFormat.OBJECT_ARRAY -> {
        for (int i = 0; i < Math.min(header.count(), atMost); i++) {
          window.need(idSize);
          values.add(value(new Via(Via.Kind.ELEMENT, "", "", i), HprofFormat.OBJECT, records.id()));
        }
      }
      case HprofFormat.PRIMITIVE_ARRAY -> {
        for (int i = 0; i < Math.min(header.count(), atMost); i++) {
          window.need(8);
          Via via = new Via(Via.Kind.ELEMENT, "", "", i);
          values.add(value(via, header.elementType(), records.next(header.elementType())));
        }
      }
      default -> {
        ClassInfo c = classOfNode.get(node);
        for (ClassInfo.Static s : c == null ? new ClassInfo.Static[0] : c.statics()) {
          values.add(value(HprofReferences.viaOf(c, s), s.type(), s.value()));
        }
      }
    }
    return values;
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
    ObjectRecords.Header header = records.header(node);
    boolean array =
        header.tag() == HprofFormat.OBJECT_ARRAY || header.tag() == HprofFormat.PRIMITIVE_ARRAY;
    return array ? header.count() & 0xffffffffL : -1;
  }

  @Override
  public int elements(int node, Bytes sink) throws IOException {
    ObjectRecords.Header header = records.header(node);
    if (header.tag() != HprofFormat.PRIMITIVE_ARRAY) {
      return 0;
    }
    int each = HprofFormat.bytes(header.elementType(), idSize);
    long left = (header.count() & 0xffffffffL) * each;
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
    ObjectRecords.Header header = records.header(node);
    if (header.tag() != HprofFormat.OBJECT_ARRAY) {
      return -1;
    }
    long nulls = 0;
    for (long i = 0; i < (header.count() & 0xffffffffL); i++) {
      window.need(idSize);
      nulls += records.id() == 0 ? 1 : 0;
    }
    return nulls;
  }

  @Override
  public int weakKey(int node) throws IOException {
    ObjectRecords.Header header = records.header(node);
    if (header.tag() != HprofFormat.INSTANCE) {
      return -1;
    }
    int referent = types.referentOffset(header.type());
    boolean weak = types.kind(header.type()) == HprofTypes.ReferenceKind.WEAK;
    long id = weak && referent >= 0 ? records.peekId(referent) : 0;
    return id == 0 ? -1 : snapshot.nodeOf(id);
  }

  @Override
  public boolean mayReferWeakly(int type) {
    return types.kind(type) != HprofTypes.ReferenceKind.NONE;
  }

  @Override
  public Via ofArray(int node) {
    return snapshot.types().get(snapshot.type(node)).array() ? ELEMENT : null;
  }

  @Override
  public String text(int node, int atMost) throws IOException {
    ClassInfo c = classOfNode.get(node);
    return c != null ? "class " + c.name() : texts.text(node, atMost);
  }

  @Override
  public int textBytes(int node, Bytes sink) throws IOException {
    return texts.textBytes(node, sink);
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
    return texts.isString(node);
  }

  @Override
  public String label(int node, int atMost) throws IOException {
    Via value = vars.isVar(snapshot.type(node)) ? vars.of(node) : null;
    if (value != null) {
      return value.owner() + "/" + value.name();
    }
    String text = text(node, atMost + 1);
    if (text == null) {
      return "";
    }
    if (text.equals(TOOLS_THREAD) && !isString(node)) {
      return ObjectReader.quoted(text, atMost) + " (listens for tools such as this one)";
    }
    return classOfNode.containsKey(node) ? text : ObjectReader.quoted(text, atMost);
  }

  /** The value of a field as it is shown, or null. */
  String field(int node, String name) throws IOException {
    for (FieldValue field : fields(node, 0)) {
      if (field.via().name().equals(name)) {
        return field.value();
      }
    }
    return null;
  }

  /** The object that a field refers to, the most special class first; -1 for null. */
  int target(int node, String name) throws IOException {
    ObjectRecords.Header header = records.header(node);
    if (header.tag() != HprofFormat.INSTANCE) {
      return -1;
    }
    for (ObjectRecords.Slot slot : records.slots(header.type())) {
      if (slot.type() == HprofFormat.OBJECT && slot.via().name().equals(name)) {
        window.need(Math.min(header.count(), slot.offset() + idSize));
        return slot.offset() + idSize > header.count()
            ? -1
            : snapshot.nodeNear(records.peekId(slot.offset()), node);
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
    ObjectRecords.Header header = records.header(array);
    if (header.tag() != HprofFormat.OBJECT_ARRAY || index < 0 || index >= header.count()) {
      return -1;
    }
    window.skip(index * idSize);
    window.need(idSize);
    long id = records.id();
    return id == 0 ? -1 : snapshot.nodeOf(id);
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
