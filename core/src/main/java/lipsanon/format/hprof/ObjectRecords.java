package lipsanon.format.hprof;

import java.io.IOException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import lipsanon.index.NodeCursor;
import lipsanon.index.Snapshot;
import lipsanon.index.Via;
import lipsanon.io.ByteSource;
import lipsanon.io.CorruptInputException;
import lipsanon.io.Window;

/** The records of single objects in a dump. One thread. */
final class ObjectRecords {
  /** Afterwards at the first field byte or element of the object whose header was read last. */
  final Window window;

  final NodeCursor nodes;
  final int idSize;
  final HprofTypes types;
  private final Snapshot snapshot;
  private final ByteSource source;
  private final Map<Integer, List<Slot>> slots = new HashMap<>();

  /** A field of an instance: where it stands among the field bytes. */
  record Slot(Via via, int type, int offset) {}

  /**
   * What a record begins with.
   *
   * @param type -1 for arrays whose class the dump lacks
   * @param count field bytes, or elements
   * @param elementType of an array
   */
  record Header(int tag, int type, int count, int elementType) {}

  ObjectRecords(Snapshot snapshot, ByteSource source, int idSize, HprofTypes types) {
    this.snapshot = snapshot;
    this.nodes = snapshot.cursor();
    this.source = source;
    this.window = new Window(source, 1 << 14);
    this.idSize = idSize;
    this.types = types;
  }

  /** Reads the header of an object; the window stands behind it. */
  Header header(int node) throws IOException {
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

  /** The identifier at the window's place. */
  long id() {
    return idSize == 8 ? window.i8() : window.u4();
  }

  /** The identifier among the field bytes. */
  long peekId(int offset) {
    return idSize == 8 ? window.peekLong(offset) : window.peekUnsignedInt(offset);
  }

  /** The fields of a class's instances, its own first. */
  List<Slot> slots(int type) {
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

  /** The value of a field of primitive type or an identifier, as bits. */
  long bits(Slot slot) {
    return switch (slot.type()) {
      case HprofFormat.OBJECT -> peekId(slot.offset());
      case HprofFormat.BOOLEAN, HprofFormat.BYTE -> window.peekByte(slot.offset());
      case HprofFormat.CHAR -> window.peekShort(slot.offset()) & 0xffff;
      case HprofFormat.SHORT -> window.peekShort(slot.offset());
      case HprofFormat.INT, HprofFormat.FLOAT -> (int) window.peekUnsignedInt(slot.offset());
      default -> window.peekLong(slot.offset());
    };
  }

  /** The next element of an array of primitives, as bits. */
  long next(int type) {
    return switch (type) {
      case HprofFormat.BOOLEAN, HprofFormat.BYTE -> (byte) window.u1();
      case HprofFormat.CHAR -> window.u2();
      case HprofFormat.SHORT -> (short) window.u2();
      case HprofFormat.INT, HprofFormat.FLOAT -> window.i4();
      default -> window.i8();
    };
  }
}
