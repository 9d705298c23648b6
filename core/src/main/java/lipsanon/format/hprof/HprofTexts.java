package lipsanon.format.hprof;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import lipsanon.index.NodeCursor;
import lipsanon.index.ObjectReader;
import lipsanon.index.Snapshot;
import lipsanon.io.Window;

/** The texts of strings, of arrays of characters, and of what is called by a text. */
final class HprofTexts {
  private static final int LONGEST_TEXT_BYTES = 1 << 20;

  private final Snapshot snapshot;
  private final HprofDetail detail;
  private final ObjectRecords records;
  private final Window window;
  private final NodeCursor nodes;
  private final int idSize;

  /** The type of strings once one was asked for, and where its fields stand. */
  private int stringType = -1;

  private int valueOffset = -1;
  private int coderOffset = -1;

  HprofTexts(Snapshot snapshot, HprofDetail detail, ObjectRecords records) {
    this.snapshot = snapshot;
    this.detail = detail;
    this.records = records;
    this.window = records.window;
    this.nodes = records.nodes;
    this.idSize = records.idSize;
  }

  /** The text of an object that is no class object, or null. */
  String text(int node, int atMost) throws IOException {
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
          detail.field(node, "value");
      case "char[]" -> characters(node, atMost);
      default -> threadName(node, atMost);
    };
  }

  /** See {@link ObjectReader#textBytes}. */
  int textBytes(int node, ObjectReader.Bytes sink) throws IOException {
    int type = nodes.type(node);
    if (stringType != type) {
      if (!isString(node)) {
        return 0;
      }
      stringType = type;
      valueOffset = -1;
      coderOffset = -1;
      for (ObjectRecords.Slot slot : records.slots(type)) {
        valueOffset = slot.via().name().equals("value") ? slot.offset() : valueOffset;
        coderOffset = slot.via().name().equals("coder") ? slot.offset() : coderOffset;
      }
    }
    ObjectRecords.Header header = records.header(node);
    if (valueOffset < 0 || coderOffset < 0 || header.tag() != HprofFormat.INSTANCE) {
      return 0;
    }
    if (header.count() < Math.max(valueOffset + idSize, coderOffset + 1)) {
      return 0;
    }
    int width = window.peekByte(coderOffset) == 1 ? Character.BYTES : 1;
    long id = records.peekId(valueOffset);
    int value = id == 0 ? -1 : nodes.nodeNear(id, node);
    return value >= 0 && detail.elements(value, sink) > 0 ? width : 0;
  }

  boolean isString(int node) {
    return snapshot.typeName(node).equals("java.lang.String");
  }

  private String threadName(int node, int atMost) throws IOException {
    for (ClassInfo c : records.types.chain(snapshot.type(node))) {
      if (c.name().equals("java.lang.Thread")) {
        int name = detail.target(node, "name");
        String text = name < 0 ? null : text(name, atMost);
        // virtual threads mostly have no name
        return text == null || text.isEmpty() ? null : text;
      }
    }
    return null;
  }

  private String string(int node, int atMost) throws IOException {
    int value = detail.target(node, "value");
    if (value < 0) {
      return "";
    }
    if (snapshot.typeName(value).equals("char[]")) {
      return characters(value, atMost);
    }
    boolean utf16 = isUtf16(node);
    ObjectRecords.Header header = records.header(value);
    if (header.tag() != HprofFormat.PRIMITIVE_ARRAY) {
      return "";
    }
    int bytes =
        (int) Math.min(Math.min(header.count(), LONGEST_TEXT_BYTES), atMost * (utf16 ? 2L : 1));
    window.need(bytes);
    byte[] raw = new byte[bytes];
    window.copy(raw, 0, bytes);
    return new String(raw, utf16 ? StandardCharsets.UTF_16LE : StandardCharsets.ISO_8859_1);
  }

  /** Whether a string's bytes are pairs, as its field {@code coder} says. */
  private boolean isUtf16(int node) throws IOException {
    ObjectRecords.Header header = records.header(node);
    for (ObjectRecords.Slot slot : records.slots(header.type())) {
      if (slot.via().name().equals("coder") && slot.offset() < header.count()) {
        window.need(slot.offset() + 1);
        return window.peekByte(slot.offset()) == 1;
      }
    }
    return false;
  }

  private String characters(int node, int atMost) throws IOException {
    ObjectRecords.Header header = records.header(node);
    StringBuilder text = new StringBuilder();
    for (int i = 0; i < Math.min(header.count(), Math.min(atMost, LONGEST_TEXT_BYTES)); i++) {
      window.need(2);
      text.append((char) window.u2());
    }
    return text.toString();
  }
}
