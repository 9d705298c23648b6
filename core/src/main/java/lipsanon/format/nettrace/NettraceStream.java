package lipsanon.format.nettrace;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.time.DateTimeException;
import java.time.LocalDateTime;
import java.time.ZoneOffset;
import java.util.HashMap;
import java.util.Map;
import lipsanon.io.ByteSource;
import lipsanon.io.CorruptInputException;
import lipsanon.io.Progress;
import lipsanon.io.TruncatedInputException;
import lipsanon.io.UnsupportedInputException;

/** Goes through the events of a stream, in the order of the file. */
final class NettraceStream {
  /** The runtime writes blocks of about 100 kB. */
  private static final int LARGEST_BLOCK = 256 << 20;

  private static final int BLOCK_HEAD = 20;
  private static final int MOST_FRAMES = 100;
  private static final long[] NONE = {};

  private final ByteSource source;
  private final Payload payload;
  private final Map<Integer, Kind> kinds = new HashMap<>();
  private final Map<Long, Integer> sequences = new HashMap<>();
  private final Event event = new Event();
  private byte[] buffer = new byte[1 << 17];
  private long position;
  private long capturedAt;
  private int pointerSize = Long.BYTES;
  private long lost;
  private boolean ended;
  private boolean begun;
  private IOException broken;
  private Map<Integer, long[]> stacks;
  private long startTicks;
  private long ticksASecond = 1;

  /** What a kind of event is. */
  private record Kind(String provider, int id, int version) {}

  /** An event that is being told; good only until the next one. */
  static final class Event {
    String provider;
    int id;
    int version;
    int stack;
    long thread;

    /** When, in milliseconds since 1970. */
    long atMillis;

    /** Its payload, to be read from the beginning. */
    Payload payload;

    int length;

    boolean is(String from, int number) {
      return id == number && provider.equals(from);
    }
  }

  /** Hears events. */
  interface Sink {
    void event(Event event) throws IOException;
  }

  NettraceStream(ByteSource source) {
    this.source = source;
    this.payload = new Payload(source.name());
  }

  /** When the stream began, milliseconds since 1970, or 0. */
  long capturedAt() {
    return capturedAt;
  }

  /** Events that the runtime could not keep, as far as gaps in their numbers tell. */
  long lost() {
    return lost;
  }

  /** Whether the stream has its last mark. */
  boolean ended() {
    return ended;
  }

  /** What it breaks off with, or null. */
  IOException broken() {
    return broken;
  }

  /**
   * Reads all; a stream that breaks off is told as far as it goes.
   *
   * @throws UnsupportedInputException if it is none
   */
  void read(Sink sink, Progress progress) throws IOException {
    begin();
    try {
      while (true) {
        progress.at(position);
        need(1, "an object or the end");
        int tag = payload.u1();
        if (tag == NettraceFormat.NULL_REFERENCE) {
          ended = true;
          return;
        }
        object(tag, sink);
      }
    } catch (TruncatedInputException | CorruptInputException e) {
      broken = e;
    }
  }

  private void begin() throws IOException {
    position = 0;
    String magic = text(NettraceFormat.MAGIC.length());
    need(Integer.BYTES, "a length");
    int length = payload.i4();
    if (!magic.equals(NettraceFormat.MAGIC) || length != NettraceFormat.SERIALIZATION.length()) {
      throw new UnsupportedInputException(source.name(), "is no event stream of .NET");
    }
    if (!text(length).equals(NettraceFormat.SERIALIZATION)) {
      throw new UnsupportedInputException(source.name(), "is an event stream of another form");
    }
    begun = true;
  }

  /**
   * Reads what has come meanwhile of a stream that goes on.
   *
   * @return how far it was read: what stands before is not asked for again
   */
  long more(Sink sink) throws IOException {
    long start = begun ? position : 0;
    try {
      if (!begun) {
        begin();
      }
      while (!ended) {
        start = position;
        need(1, "an object or the end");
        int tag = payload.u1();
        ended = tag == NettraceFormat.NULL_REFERENCE;
        if (!ended) {
          object(tag, sink);
        }
      }
    } catch (TruncatedInputException e) {
      position = start;
    }
    return position;
  }

  private void object(int tag, Sink sink) throws IOException {
    need(14, "the head of an object");
    int second = payload.u1();
    int third = payload.u1();
    int version = payload.i4();
    payload.skip(Integer.BYTES);
    int nameLength = payload.i4();
    if (tag != NettraceFormat.BEGIN_OBJECT
        || second != NettraceFormat.BEGIN_OBJECT
        || third != NettraceFormat.NULL_REFERENCE
        || nameLength < 1
        || nameLength > 64) {
      throw new CorruptInputException(source.name(), position, "no object", "its head");
    }
    String name = text(nameLength);
    if (name.equals("Trace") && version != 4) {
      throw new UnsupportedInputException(
          source.name(), "is an event stream of version " + version + "; this program reads 4");
    }
    need(1, "a mark");
    expect(payload.u1(), NettraceFormat.END_OBJECT);
    if (name.equals("Trace")) {
      need(NettraceFormat.TRACE_BYTES, "the head of the trace");
      trace();
      need(1, "a mark");
      expect(payload.u1(), NettraceFormat.END_OBJECT);
    } else {
      block(name, sink);
    }
  }

  private void expect(int tag, int wanted) throws CorruptInputException {
    if (tag != wanted) {
      throw new CorruptInputException(source.name(), position - 1, "mark " + tag, "mark " + wanted);
    }
  }

  private void trace() throws IOException {
    int year = payload.u2();
    int month = payload.u2();
    payload.u2();
    int day = payload.u2();
    try {
      capturedAt =
          LocalDateTime.of(year, month, day, payload.u2(), payload.u2(), payload.u2())
                  .toInstant(ZoneOffset.UTC)
                  .toEpochMilli()
              + payload.u2();
    } catch (DateTimeException e) {
      capturedAt = 0;
    }
    startTicks = payload.i8();
    ticksASecond = Math.max(1, payload.i8());
    pointerSize = payload.i4();
  }

  /** The time of its begin, in its own ticks. */
  long startTicks() {
    return startTicks;
  }

  int pointerSize() {
    return pointerSize;
  }

  private void block(String name, Sink sink) throws IOException {
    need(Integer.BYTES, "the size of a block");
    int size = payload.i4();
    position = position + 3 & ~3L;
    if (size < 0 || size > LARGEST_BLOCK) {
      throw new CorruptInputException(
          source.name(), position, "a block of " + size + " bytes", "a size");
    }
    // with its last mark, so that a block is told once even where that comes later
    need(size + 1, "the rest of a block");
    position--;
    payload.turnTo(buffer, position - size, 0, size);
    switch (name) {
      case "MetadataBlock" -> events(sink, true);
      case "EventBlock" -> events(sink, false);
      case "SPBlock" -> sequencePoint();
      case "StackBlock" -> stacks(size);
      default -> payload.skip(size);
    }
    position++;
    expect(buffer[size] & 0xff, NettraceFormat.END_OBJECT);
  }

  /** Addresses of frames, the innermost first; kept where somebody wants them. */
  private void stacks(int size) throws IOException {
    int end = payload.at() + size;
    int id = payload.i4();
    int count = payload.i4();
    for (int i = 0; i < count && stacks != null; i++) {
      int bytes = payload.i4();
      payload.need(bytes);
      long[] frames = new long[Math.min(MOST_FRAMES, bytes / Long.BYTES)];
      int begin = payload.at();
      for (int k = 0; k < frames.length; k++) {
        frames[k] = payload.i8();
      }
      payload.goTo(begin + bytes);
      stacks.put(id + i, frames);
    }
    payload.goTo(end);
  }

  /** Keeps the frames of stacks from now on. */
  void keepStacks() {
    stacks = new HashMap<>();
  }

  /** The frames of a stack, innermost first; empty if it is not known. */
  long[] stack(int id) {
    return stacks == null ? NONE : stacks.getOrDefault(id, NONE);
  }

  private void sequencePoint() throws IOException {
    payload.i8();
    int count = payload.entries(Long.BYTES + Integer.BYTES);
    for (int i = 0; i < count; i++) {
      follow(payload.i8(), payload.i4(), false);
    }
  }

  /** A thread's events are numbered one after another: what is missing was lost. */
  private void follow(long thread, int sequence, boolean counts) {
    Integer last = sequences.put(thread, sequence);
    if (last != null) {
      int gap = sequence - last - (counts ? 1 : 0);
      lost += gap > 0 ? gap : 0;
    }
  }

  private void events(Sink sink, boolean metadata) throws IOException {
    int begin = payload.at();
    int headerSize = payload.u2();
    int flags = payload.u2();
    if (headerSize < BLOCK_HEAD || headerSize > payload.remaining() + 4) {
      throw new CorruptInputException(
          source.name(), payload.position(), "a head of " + headerSize + " bytes", "20 or more");
    }
    if ((flags & 1) == 0) {
      throw new UnsupportedInputException(source.name(), "has events of the uncompressed form");
    }
    payload.goTo(begin + headerSize);
    int end = payload.at() + payload.remaining();
    int metadataId = 0;
    int sequence = 0;
    long captureThread = 0;
    long thread = 0;
    int stack = 0;
    int length = 0;
    long time = 0;
    while (payload.remaining() > 0) {
      int f = payload.u1();
      if ((f & 1) != 0) {
        metadataId = (int) payload.varint();
      }
      if ((f & 2) != 0) {
        sequence += (int) payload.varint();
        captureThread = payload.varint();
        payload.varint();
      }
      sequence += metadataId != 0 ? 1 : 0;
      if ((f & 4) != 0) {
        thread = payload.varint();
      }
      if ((f & 8) != 0) {
        stack = (int) payload.varint();
      }
      time += payload.varint();
      payload.skip(((f & 16) != 0 ? 16 : 0) + ((f & 32) != 0 ? 16 : 0));
      if ((f & 128) != 0) {
        length = (int) payload.varint();
      }
      payload.need(length);
      int from = payload.at();
      if (metadata) {
        metadata(length);
      } else {
        if (metadataId != 0) {
          follow(captureThread, sequence, true);
        }
        event.atMillis = capturedAt + (time - startTicks) * 1000 / ticksASecond;
        tell(sink, metadataId, thread, stack, length, end);
      }
      payload.turnTo(buffer, position - end, from + length, end);
    }
  }

  private void tell(Sink sink, int metadataId, long thread, int stack, int length, int end)
      throws IOException {
    Kind kind = kinds.get(metadataId & Integer.MAX_VALUE);
    if (kind == null) {
      return;
    }
    event.provider = kind.provider();
    event.id = kind.id();
    event.version = kind.version();
    event.thread = thread;
    event.stack = stack;
    event.payload = payload;
    event.length = length;
    int from = payload.at();
    payload.turnTo(buffer, position - end, from, from + length);
    sink.event(event);
  }

  private void metadata(int length) throws IOException {
    int begin = payload.at();
    int id = payload.i4();
    String provider = payload.text();
    int number = payload.i4();
    payload.text();
    payload.i8();
    kinds.put(id, new Kind(provider, number, payload.i4()));
    payload.goTo(begin + length);
  }

  private String text(int length) throws IOException {
    need(length, "a name");
    String text = new String(payload.bytes(), payload.at(), length, StandardCharsets.ISO_8859_1);
    payload.skip(length);
    return text;
  }

  private void need(int count, String what) throws IOException {
    if (!load(count)) {
      throw new TruncatedInputException(source.name(), source.size(), what);
    }
  }

  /** Loads the next bytes of the file; false if there are fewer. */
  private boolean load(int count) throws IOException {
    if (count > source.size() - position) {
      return false;
    }
    if (count > buffer.length) {
      buffer = new byte[count + count / 4];
    }
    for (int got = 0, some; got < count; got += some) {
      some = source.read(position + got, buffer, got, count - got);
      if (some <= 0) {
        return false;
      }
    }
    payload.turnTo(buffer, position, 0, count);
    position += count;
    return true;
  }
}
