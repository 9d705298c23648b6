package lipsanon.format.hprof;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import lipsanon.array.LongIntMap;
import lipsanon.io.ByteSource;
import lipsanon.io.CorruptInputException;
import lipsanon.io.UnsupportedInputException;
import lipsanon.io.Window;

/** The records of a dump but for what is inside its heap segments; one quick pass. */
final class HprofFile {
  private static final int LONGEST_VERSION = 32;
  private static final int LONGEST_NAME = 1 << 14;

  private final ByteSource source;
  private final LongIntMap strings = new LongIntMap();
  private long[] stringPosition = new long[1024];
  private int[] stringLength = new int[1024];
  private long[] stringId = new long[1024];
  private int stringCount;

  int idSize;
  long capturedAtMillis;

  /** Heap segments in file order. */
  final List<Segment> segments = new ArrayList<>();

  /** Class id to name id. */
  final Map<Long, Long> classNames = new HashMap<>();

  private final Map<Integer, Long> classOfSerial = new HashMap<>();
  private final Map<Long, Frame> frames = new HashMap<>();
  private final Map<Integer, long[]> traces = new HashMap<>();
  long unknownRecords;

  /** Where the file breaks off, or -1. */
  long cutAt = -1;

  /** Bytes that the record at the cut still lacks; 0 if only the closing record is missing. */
  long missingAtLeast;

  /**
   * A part of the file that holds sub-records.
   *
   * @param end may lie beyond the end of the file in a dump that was cut off
   */
  record Segment(long begin, long end) {}

  private record Frame(long method, long signature, int classSerial, long sourceFile, int line) {}

  private HprofFile(ByteSource source) {
    this.source = source;
  }

  /** Whether a file's first bytes announce this format. */
  static boolean matches(byte[] head) {
    return new String(head, StandardCharsets.ISO_8859_1).startsWith(HprofFormat.MAGIC);
  }

  static HprofFile scan(ByteSource source) throws IOException {
    HprofFile file = new HprofFile(source);
    Window window = new Window(source, 1 << 16);
    file.header(window);
    file.records(window);
    return file;
  }

  private void header(Window window) throws IOException {
    StringBuilder text = new StringBuilder();
    int limit = (int) Math.min(LONGEST_VERSION, window.remaining());
    window.need(limit);
    int c = -1;
    for (int i = 0; i < limit && (c = window.u1()) != 0; i++) {
      text.append((char) c);
    }
    String version = text.toString();
    if (!version.startsWith(HprofFormat.MAGIC)) {
      throw new UnsupportedInputException(
          source.name(),
          "is no heap snapshot that Lipsanon reads (JVM heap dumps in HPROF format)");
    }
    if (c != 0 || !(version.endsWith(".1") || version.endsWith(".2"))) {
      throw new UnsupportedInputException(
          source.name(), "has format \"" + version + "\"; versions 1.0.1 and 1.0.2 are read");
    }
    window.need(12);
    long at = window.position();
    idSize = window.i4();
    if (idSize != 4 && idSize != 8) {
      throw new CorruptInputException(source.name(), at, "identifier size " + idSize, "4 or 8");
    }
    capturedAtMillis = window.i8();
  }

  private void records(Window window) throws IOException {
    long size = source.size();
    boolean segmented = false;
    boolean ended = false;
    while (window.position() < size) {
      long at = window.position();
      if (size - at < HprofFormat.RECORD_HEADER_BYTES) {
        cut(at, HprofFormat.RECORD_HEADER_BYTES - (size - at));
        break;
      }
      window.need(HprofFormat.RECORD_HEADER_BYTES);
      int tag = window.u1();
      window.i4();
      long length = window.u4();
      long begin = window.position();
      if (tag == HprofFormat.HEAP_DUMP || tag == HprofFormat.HEAP_DUMP_SEGMENT) {
        segmented |= tag == HprofFormat.HEAP_DUMP_SEGMENT;
        segments.add(new Segment(begin, begin + length));
      }
      if (length > size - begin) {
        cut(size, length - (size - begin));
        break;
      }
      if (tag == HprofFormat.HEAP_DUMP_END) {
        ended = true;
      }
      record(window, tag, begin, length);
      window.seek(begin + length, size);
    }
    if (cutAt < 0 && segmented && !ended) {
      cut(size, 0);
    }
    if (segments.isEmpty() && cutAt < 0) {
      throw new UnsupportedInputException(
          source.name(), "is an HPROF file without a heap dump in it");
    }
  }

  private void cut(long at, long missing) {
    cutAt = at;
    missingAtLeast = missing;
  }

  private void record(Window window, int tag, long begin, long length) throws IOException {
    switch (tag) {
      case HprofFormat.UTF8 -> {
        fixed(window, begin, length, idSize, false);
        addString(id(window), begin + idSize, (int) Math.min(Integer.MAX_VALUE, length - idSize));
      }
      case HprofFormat.LOAD_CLASS -> {
        fixed(window, begin, length, 8 + 2 * idSize, true);
        int serial = window.i4();
        long classId = id(window);
        window.i4();
        classNames.putIfAbsent(classId, id(window));
        classOfSerial.put(serial, classId);
      }
      case HprofFormat.FRAME -> {
        fixed(window, begin, length, 8 + 4 * idSize, true);
        long frameId = id(window);
        long method = id(window);
        long signature = id(window);
        long file = id(window);
        frames.put(frameId, new Frame(method, signature, window.i4(), file, window.i4()));
      }
      case HprofFormat.TRACE -> {
        fixed(window, begin, length, 12, false);
        int serial = window.i4();
        window.i4();
        long count = window.u4();
        if (count * idSize != length - 12) {
          throw new CorruptInputException(
              source.name(), begin + 8, count + " frames", "as many as the record holds");
        }
        trace(window, serial, (int) count);
      }
      case HprofFormat.HEAP_DUMP, HprofFormat.HEAP_DUMP_SEGMENT, HprofFormat.HEAP_DUMP_END -> {}
        // unload class, allocation sites, heap summary, start and end of threads, samples, settings
      case 0x03, 0x06, 0x07, 0x0a, 0x0b, 0x0d, 0x0e -> {}
      default -> unknownRecords++;
    }
  }

  private void trace(Window window, int serial, int count) throws IOException {
    long[] ids = new long[count];
    for (int i = 0; i < count; i++) {
      window.need(idSize);
      ids[i] = id(window);
    }
    traces.put(serial, ids);
  }

  private void fixed(Window window, long begin, long length, int needed, boolean exactly)
      throws IOException {
    if (length < needed || exactly && length != needed) {
      throw new CorruptInputException(
          source.name(),
          begin - 4,
          "a record of " + length + " bytes",
          (exactly ? "" : "at least ") + needed);
    }
    window.need(needed);
  }

  long id(Window window) {
    return idSize == 8 ? window.i8() : window.u4();
  }

  private void addString(long id, long position, int length) {
    if (stringCount == stringLength.length) {
      stringPosition = Arrays.copyOf(stringPosition, stringCount * 2);
      stringLength = Arrays.copyOf(stringLength, stringCount * 2);
      stringId = Arrays.copyOf(stringId, stringCount * 2);
    }
    stringPosition[stringCount] = position;
    stringLength[stringCount] = length;
    stringId[stringCount] = id;
    strings.put(id, stringCount++);
  }

  /** The identifiers of texts that are names of classes, methods and source files. */
  Set<Long> names() {
    Set<Long> names = new HashSet<>(classNames.values());
    for (Frame frame : frames.values()) {
      names.add(frame.method);
      names.add(frame.signature);
      names.add(frame.sourceFile);
    }
    return names;
  }

  int stringCount() {
    return stringCount;
  }

  /** Where the bytes of a string record stand, by its number in the order of the file. */
  long stringPosition(int number) {
    return stringPosition[number];
  }

  long stringId(int number) {
    return stringId[number];
  }

  int stringLength(int number) {
    return stringLength[number];
  }

  /** The text of a string record, or null. */
  String string(long id) throws IOException {
    int index = strings.get(id);
    if (index < 0) {
      return null;
    }
    byte[] bytes = new byte[Math.min(LONGEST_NAME, stringLength[index])];
    int got = source.read(stringPosition[index], bytes, 0, bytes.length);
    return ModifiedUtf8.text(bytes, Math.max(0, got), stringLength[index] > bytes.length);
  }

  /** The name of a class, as Java source has it; a substitute where the dump does not say. */
  String className(long classId) throws IOException {
    Long nameId = classNames.get(classId);
    String raw = nameId == null ? null : string(nameId);
    return raw == null || raw.isEmpty()
        ? "(class at 0x" + Long.toHexString(classId) + ")"
        : JavaNames.of(raw);
  }

  /** Frame {@code index} of a stack trace, as {@code Class.method (File:line)}; "" if unknown. */
  String frame(int trace, int index) throws IOException {
    long[] ids = traces.get(trace);
    Frame frame = ids == null || index < 0 || index >= ids.length ? null : frames.get(ids[index]);
    if (frame == null) {
      return "";
    }
    Long classId = classOfSerial.get(frame.classSerial);
    String method = string(frame.method);
    String file = string(frame.sourceFile);
    String where =
        file == null || file.isEmpty()
            ? ""
            : " (" + file + (frame.line > 0 ? ":" + frame.line : "") + ")";
    return (classId == null ? "" : className(classId) + ".") + method + where;
  }
}
