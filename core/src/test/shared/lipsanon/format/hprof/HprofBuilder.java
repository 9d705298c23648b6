package lipsanon.format.hprof;

import java.io.ByteArrayOutputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.Map;

/** Writes small dumps record by record, as {@link HprofFormat} describes them. */
public final class HprofBuilder {
  private final int idSize;
  private final ByteArrayOutputStream file = new ByteArrayOutputStream();
  private final DataOutputStream top = new DataOutputStream(file);
  private ByteArrayOutputStream heapBytes = new ByteArrayOutputStream();
  private DataOutputStream heap = new DataOutputStream(heapBytes);
  private final Map<String, Long> strings = new LinkedHashMap<>();
  private final Map<Long, int[]> fieldTypes = new HashMap<>();
  private final Map<Long, Long> superclass = new HashMap<>();
  private int serial;

  /** With identifiers of 4 or 8 bytes. */
  public HprofBuilder(int idSize) {
    this.idSize = idSize;
    run(
        () -> {
          top.write("JAVA PROFILE 1.0.2\0".getBytes(StandardCharsets.ISO_8859_1));
          top.writeInt(idSize);
          top.writeLong(1_790_000_000_000L);
        });
  }

  private interface Step {
    void run() throws IOException;
  }

  private HprofBuilder run(Step step) {
    try {
      step.run();
      return this;
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  private void id(DataOutputStream out, long id) throws IOException {
    if (idSize == 8) {
      out.writeLong(id);
    } else {
      out.writeInt((int) id);
    }
  }

  /** A top-level record of any kind. */
  public HprofBuilder record(int tag, byte[] body) {
    return run(
        () -> {
          top.writeByte(tag);
          top.writeInt(0);
          top.writeInt(body.length);
          top.write(body);
        });
  }

  private long string(String text) {
    Long known = strings.get(text);
    if (known != null) {
      return known;
    }
    long id = 0x9000 + strings.size();
    strings.put(text, id);
    ByteArrayOutputStream body = new ByteArrayOutputStream();
    run(
        () -> {
          DataOutputStream out = new DataOutputStream(body);
          id(out, id);
          out.write(text.getBytes(StandardCharsets.UTF_8));
        });
    record(HprofFormat.UTF8, body.toByteArray());
    return id;
  }

  /**
   * Declares a class; fields are {@code name:type} with the type's number, statics have a value.
   */
  public HprofBuilder type(
      long id, String name, long superId, Map<String, Long> staticReferences, String... fields) {
    return run(
        () -> {
          ByteArrayOutputStream load = new ByteArrayOutputStream();
          DataOutputStream out = new DataOutputStream(load);
          out.writeInt(++serial);
          id(out, id);
          out.writeInt(0);
          id(out, string(name.replace('.', '/')));
          record(HprofFormat.LOAD_CLASS, load.toByteArray());
          heap.writeByte(HprofFormat.CLASS_DUMP);
          id(heap, id);
          heap.writeInt(0);
          id(heap, superId);
          for (int i = 0; i < 5; i++) {
            id(heap, 0);
          }
          heap.writeInt(0);
          heap.writeShort(0);
          heap.writeShort(staticReferences.size());
          for (Map.Entry<String, Long> entry : staticReferences.entrySet()) {
            id(heap, string(entry.getKey()));
            heap.writeByte(HprofFormat.OBJECT);
            id(heap, entry.getValue());
          }
          heap.writeShort(fields.length);
          int[] types = new int[fields.length];
          for (int i = 0; i < fields.length; i++) {
            String[] parts = fields[i].split(":");
            types[i] = Integer.parseInt(parts[1]);
            id(heap, string(parts[0]));
            heap.writeByte(types[i]);
          }
          fieldTypes.put(id, types);
          superclass.put(id, superId);
        });
  }

  /** An object with the values of all its fields, those of its own class first. */
  public HprofBuilder instance(long id, long classId, long... values) {
    return run(
        () -> {
          ByteArrayOutputStream bytes = new ByteArrayOutputStream();
          DataOutputStream out = new DataOutputStream(bytes);
          int at = 0;
          for (long c = classId; c != 0; c = superclass.getOrDefault(c, 0L)) {
            for (int type : fieldTypes.getOrDefault(c, new int[0])) {
              value(out, type, values[at++]);
            }
          }
          heap.writeByte(HprofFormat.INSTANCE);
          id(heap, id);
          heap.writeInt(0);
          id(heap, classId);
          heap.writeInt(bytes.size());
          heap.write(bytes.toByteArray());
        });
  }

  private void value(DataOutputStream out, int type, long value) throws IOException {
    switch (HprofFormat.bytes(type, idSize)) {
      case 1 -> out.writeByte((int) value);
      case 2 -> out.writeShort((int) value);
      case 4 -> out.writeInt((int) value);
      default -> out.writeLong(value);
    }
  }

  /** An array of references. */
  public HprofBuilder array(long id, long classId, long... elements) {
    return run(
        () -> {
          heap.writeByte(HprofFormat.OBJECT_ARRAY);
          id(heap, id);
          heap.writeInt(0);
          heap.writeInt(elements.length);
          id(heap, classId);
          for (long element : elements) {
            id(heap, element);
          }
        });
  }

  /** An array of bytes. */
  public HprofBuilder bytes(long id, byte... elements) {
    return run(
        () -> {
          heap.writeByte(HprofFormat.PRIMITIVE_ARRAY);
          id(heap, id);
          heap.writeInt(0);
          heap.writeInt(elements.length);
          heap.writeByte(HprofFormat.BYTE);
          heap.write(elements);
        });
  }

  /** A root with as many further numbers as its kind has. */
  public HprofBuilder root(int kind, long id, int... numbers) {
    return run(
        () -> {
          heap.writeByte(kind);
          id(heap, id);
          if (kind == HprofFormat.ROOT_JNI_GLOBAL) {
            id(heap, 0);
          }
          for (int number : numbers) {
            heap.writeInt(number);
          }
        });
  }

  /** A byte of a heap segment as it is. */
  public HprofBuilder raw(int value) {
    return run(() -> heap.writeByte(value));
  }

  /** Closes the current heap segment. */
  public HprofBuilder segment() {
    record(HprofFormat.HEAP_DUMP_SEGMENT, heapBytes.toByteArray());
    heapBytes = new ByteArrayOutputStream();
    heap = new DataOutputStream(heapBytes);
    return this;
  }

  /** The whole file. */
  public byte[] build() {
    if (heapBytes.size() > 0) {
      segment();
    }
    record(HprofFormat.HEAP_DUMP_END, new byte[0]);
    return file.toByteArray();
  }

  /** A small dump with something of everything. */
  public static byte[] sample(int idSize) {
    return new HprofBuilder(idSize)
        .type(0x1000, "java.lang.Object", 0, Map.of())
        .type(0x1100, "java.lang.Class", 0x1000, Map.of())
        .type(0x1200, "java.lang.Thread", 0x1000, Map.of(), "name:2")
        .type(0x1300, "java.lang.ref.Reference", 0x1000, Map.of(), "referent:2", "next:2")
        .type(0x1400, "java.lang.ref.WeakReference", 0x1300, Map.of())
        .type(0x1500, "java.lang.ref.SoftReference", 0x1300, Map.of())
        .type(0x1600, "java.lang.ref.FinalReference", 0x1300, Map.of())
        .type(0x1700, "[Ljava/lang/Object;", 0x1000, Map.of())
        .type(0x1800, "harbour.Board", 0x1000, Map.of("CALLS", 0x4000L), "height:10", "open:4")
        .type(0x1900, "harbour.Call", 0x1000, Map.of(), "board:2", "next:2", "tons:7")
        .segment()
        .instance(0x4100, 0x1900, 0x4600, 0x4200, 0)
        .instance(0x4200, 0x1900, 0, 0x4300, 1)
        .instance(0x4300, 0x1900, 0, 0x4100, 2)
        .array(0x4000, 0x1700, 0x4100, 0x4200, 0, 0xdead0)
        .instance(0x4600, 0x1800, 12, 1)
        .segment()
        .bytes(0x4700, (byte) 1, (byte) 2, (byte) 3)
        .instance(0x5000, 0x1200, 0)
        .instance(0x5100, 0x1400, 0x5200, 0)
        .instance(0x5200, 0x1800, 1, 1)
        .instance(0x5300, 0x1500, 0x5400, 0)
        .instance(0x5400, 0x1800, 2, 1)
        .instance(0x5500, 0x1600, 0x5600, 0)
        .instance(0x5600, 0x1800, 3, 1)
        .root(HprofFormat.ROOT_STICKY_CLASS, 0x1800)
        .root(HprofFormat.ROOT_THREAD_OBJECT, 0x5000, 7, 0)
        .root(HprofFormat.ROOT_JAVA_FRAME, 0x4700, 7, 0)
        .root(HprofFormat.ROOT_JNI_LOCAL, 0x5100, 99, 0)
        .root(HprofFormat.ROOT_JNI_GLOBAL, 0x5300)
        .root(HprofFormat.ROOT_MONITOR, 0x5500)
        .root(HprofFormat.ROOT_UNKNOWN, 0x4200)
        .root(HprofFormat.ROOT_NATIVE_STACK, 0x4200, 7)
        .root(HprofFormat.ROOT_THREAD_BLOCK, 0x4200, 7)
        .build();
  }
}
