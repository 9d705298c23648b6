package lipsanon.format.nettrace;

import java.io.ByteArrayOutputStream;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** Writes the names of a {@link NameBook} as objects of a stream, see {@link NettraceFormat}. */
final class NameWriter {
  /** Other readers expect no event of more than 64 kB. */
  private static final int LARGE = 32_000;

  private static final int LONGEST = 1000;
  private static final int FIRST_ID = 0x7fff_0001;
  private static final int HEAD_BYTES = 20;
  private static final int HAS_METADATA = 1;
  private static final int HAS_SEQUENCE = 2;
  private static final int HAS_LENGTH = 128;

  private static final int[] EVENTS = {
    NameEvents.STRINGS, NameEvents.TYPES, NameEvents.STATICS, NameEvents.GENERICS
  };

  private final Map<String, Integer> numbers = new LinkedHashMap<>();
  private final List<Bytes> events = new ArrayList<>();
  private final List<Integer> ids = new ArrayList<>();
  private Bytes open;
  private int entries;

  private NameWriter() {}

  /** Little-endian bytes. */
  private static final class Bytes extends ByteArrayOutputStream {
    void number(long value, int bytes) {
      for (int i = 0; i < bytes; i++) {
        write((int) (value >>> Byte.SIZE * i));
      }
    }

    void varint(long value) {
      long left = value;
      for (; (left & ~0x7fL) != 0; left >>>= 7) {
        write((int) (left & 0x7f | 0x80));
      }
      write((int) left);
    }

    void text16(String text) {
      writeBytes(text.getBytes(StandardCharsets.UTF_16LE));
      number(0, Short.BYTES);
    }

    void patch(int at, int value) {
      for (int i = 0; i < Integer.BYTES; i++) {
        buf[at + i] = (byte) (value >>> Byte.SIZE * i);
      }
    }
  }

  /**
   * The objects that tell of names.
   *
   * @param position where in the file they will stand: blocks begin at multiples of four
   * @param ticks the time of the events
   */
  static byte[] objects(NameBook book, long position, long ticks) {
    NameWriter writer = new NameWriter();
    writer.book(book);
    Bytes out = new Bytes();
    Bytes metadata = head(ticks);
    for (int id : EVENTS) {
      Bytes event = new Bytes();
      event.number(FIRST_ID + id, Integer.BYTES);
      event.text16(NettraceFormat.NAMES);
      event.number(id, Integer.BYTES);
      event.text16("");
      event.number(0, Long.BYTES);
      event.number(1, Integer.BYTES);
      event.number(4, Integer.BYTES);
      event.number(0, Integer.BYTES);
      metadata.write(HAS_METADATA | HAS_LENGTH);
      metadata.varint(0);
      metadata.varint(0);
      metadata.varint(event.size());
      metadata.writeBytes(event.toByteArray());
    }
    object("MetadataBlock", metadata, position, out);
    Bytes block = head(ticks);
    for (int i = 0; i < writer.events.size(); i++) {
      block.write(HAS_METADATA | HAS_SEQUENCE | HAS_LENGTH);
      block.varint(FIRST_ID + writer.ids.get(i));
      // of no thread of the program: events are counted by thread
      block.varint(0);
      block.varint(0);
      block.varint(0);
      block.varint(i == 0 ? ticks : 0);
      block.varint(writer.events.get(i).size());
      block.writeBytes(writer.events.get(i).toByteArray());
    }
    object("EventBlock", block, position, out);
    return out.toByteArray();
  }

  private static Bytes head(long ticks) {
    Bytes head = new Bytes();
    head.number(HEAD_BYTES, Short.BYTES);
    head.number(1, Short.BYTES);
    head.number(ticks, Long.BYTES);
    head.number(ticks, Long.BYTES);
    return head;
  }

  private static void object(String name, Bytes body, long position, Bytes out) {
    out.write(NettraceFormat.BEGIN_OBJECT);
    out.write(NettraceFormat.BEGIN_OBJECT);
    out.write(NettraceFormat.NULL_REFERENCE);
    out.number(2, Integer.BYTES);
    out.number(2, Integer.BYTES);
    out.number(name.length(), Integer.BYTES);
    out.writeBytes(name.getBytes(StandardCharsets.US_ASCII));
    out.write(NettraceFormat.END_OBJECT);
    out.number(body.size(), Integer.BYTES);
    while ((position + out.size() & 3) != 0) {
      out.write(0);
    }
    out.writeBytes(body.toByteArray());
    out.write(NettraceFormat.END_OBJECT);
  }

  private void book(NameBook book) {
    List<Bytes> types = new ArrayList<>();
    book.types.forEach((id, type) -> types.add(type(id, type)));
    List<Bytes> statics = numbered(book.statics);
    List<Bytes> generics = numbered(book.generics);
    int first = 0;
    for (String text : numbers.keySet()) {
      byte[] bytes = text.getBytes(StandardCharsets.UTF_8);
      Bytes one = new Bytes();
      one.number(bytes.length, Short.BYTES);
      one.writeBytes(bytes);
      add(NameEvents.STRINGS, one, first++);
    }
    close(NameEvents.STRINGS);
    types.forEach(one -> add(NameEvents.TYPES, one, -1));
    close(NameEvents.TYPES);
    statics.forEach(one -> add(NameEvents.STATICS, one, -1));
    close(NameEvents.STATICS);
    generics.forEach(one -> add(NameEvents.GENERICS, one, -1));
    close(NameEvents.GENERICS);
  }

  private List<Bytes> numbered(Map<Long, String> names) {
    List<Bytes> all = new ArrayList<>();
    names.forEach(
        (number, name) -> {
          Bytes one = new Bytes();
          one.number(number, Long.BYTES);
          one.number(number(name), Integer.BYTES);
          all.add(one);
        });
    return all;
  }

  private Bytes type(long id, NameBook.Type type) {
    Bytes out = new Bytes();
    out.number(id, Long.BYTES);
    out.number(number(type.name()), Integer.BYTES);
    int nested = type.nested() ? NameEvents.NESTED : 0;
    out.write(nested | (type.foreign() ? NameEvents.FOREIGN : 0));
    out.number(type.slots().size(), Integer.BYTES);
    for (NameBook.Slot slot : type.slots()) {
      out.number(number(slot.owner()), Integer.BYTES);
      out.number(number(slot.path()), Integer.BYTES);
      out.number(number(slot.declared()), Integer.BYTES);
    }
    out.number(type.kinds().size(), Integer.BYTES);
    type.kinds().forEach(kind -> out.number(number(kind), Integer.BYTES));
    return out;
  }

  private int number(String text) {
    String some = text.length() > LONGEST ? text.substring(0, LONGEST) : text;
    return numbers.computeIfAbsent(some, t -> numbers.size());
  }

  /** Adds an entry to the event that is open, or to a new one if that is large enough. */
  private void add(int id, Bytes entry, int first) {
    if (open != null && open.size() + entry.size() > LARGE) {
      close(id);
    }
    if (open == null) {
      open = new Bytes();
      entries = 0;
      if (first >= 0) {
        open.number(first, Integer.BYTES);
      }
      open.number(0, Integer.BYTES);
    }
    open.writeBytes(entry.toByteArray());
    entries++;
  }

  private void close(int id) {
    if (open != null) {
      open.patch(id == NameEvents.STRINGS ? Integer.BYTES : 0, entries);
      events.add(open);
      ids.add(id);
      open = null;
    }
  }
}
