package lipsanon.capture.jvm;

import java.io.IOException;
import java.nio.BufferUnderflowException;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.Map;

/**
 * The performance data that a JVM keeps in a file for other processes, version 2: counters and
 * texts by name. Reading it does not disturb the JVM.
 *
 * <pre>
 * File  --> 0xcafec0c0 u4 (big-endian), byte-order u1 (1 little), major u1, minor u1, accessible u1,
 *           used i4, overflow i4, modified i8, first-entry i4, entries i4
 * Entry --> length i4, name-offset i4, vector-length i4, type u1, flags u1, unit u1, variability u1,
 *           data-offset i4, ...
 * </pre>
 */
final class PerfData {
  private static final int MAGIC = 0xcafec0c0;
  private static final int BYTE_ORDER_OFFSET = 4;
  private static final int FIRST_ENTRY_OFFSET = 24;
  private static final int ENTRIES_OFFSET = 28;
  private static final int HEADER_BYTES = 32;

  /** Of a JVM that keeps none. */
  static final PerfData EMPTY = new PerfData();

  private final Map<String, Object> values = new HashMap<>();

  private PerfData() {}

  /** Reads a file; empty if it is none or is being rewritten. */
  static PerfData read(Path file) throws IOException {
    PerfData data = new PerfData();
    ByteBuffer bytes = ByteBuffer.wrap(Files.readAllBytes(file));
    if (bytes.capacity() < HEADER_BYTES || bytes.getInt(0) != MAGIC) {
      return data;
    }
    boolean little = bytes.get(BYTE_ORDER_OFFSET) == 1;
    bytes.order(little ? ByteOrder.LITTLE_ENDIAN : ByteOrder.BIG_ENDIAN);
    try {
      int at = bytes.getInt(FIRST_ENTRY_OFFSET);
      for (int left = bytes.getInt(ENTRIES_OFFSET); left > 0; left--) {
        int length = bytes.getInt(at);
        if (length <= 0) {
          break;
        }
        data.entry(bytes, at);
        at += length;
      }
    } catch (BufferUnderflowException | IndexOutOfBoundsException e) {
      // the JVM changes the file while we read: what was whole is kept
      return data;
    }
    return data;
  }

  private void entry(ByteBuffer bytes, int at) {
    int name = at + bytes.getInt(at + 4);
    int vector = bytes.getInt(at + 8);
    char type = (char) bytes.get(at + 12);
    int data = at + bytes.getInt(at + 16);
    if (type == 'J' && vector == 0) {
      values.put(text(bytes, name, bytes.capacity()), bytes.getLong(data));
    } else if (type == 'B' && vector > 0) {
      values.put(text(bytes, name, bytes.capacity()), text(bytes, data, data + vector));
    }
  }

  private static String text(ByteBuffer bytes, int from, int limit) {
    int end = from;
    while (end < limit && bytes.get(end) != 0) {
      end++;
    }
    byte[] raw = new byte[end - from];
    for (int i = 0; i < raw.length; i++) {
      raw[i] = bytes.get(from + i);
    }
    return new String(raw, StandardCharsets.UTF_8);
  }

  String text(String name) {
    return values.get(name) instanceof String text ? text : "";
  }

  long number(String name) {
    return values.get(name) instanceof Long number ? number : -1;
  }

  /** Sum of the heap's spaces in use, or -1. */
  long heapUsed() {
    return sum("used");
  }

  /** The most that the heap may grow to, or -1. */
  long heapMax() {
    long max = 0;
    for (int generation = 0; generation < 2; generation++) {
      long one = number("sun.gc.generation." + generation + ".maxCapacity");
      // collectors with regions give the whole heap as the limit of each generation, but for some
      // bytes
      max = Math.abs(max - one) < 4096 ? Math.max(max, one) : max + Math.max(0, one);
    }
    return max == 0 ? -1 : max;
  }

  private long sum(String what) {
    long sum = 0;
    boolean any = false;
    for (Map.Entry<String, Object> entry : values.entrySet()) {
      String name = entry.getKey();
      if (name.startsWith("sun.gc.generation.")
          && name.endsWith("." + what)
          && name.contains(".space.")) {
        sum += (Long) entry.getValue();
        any = true;
      }
    }
    return any ? sum : -1;
  }
}
