package lipsanon.format.elfcore;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Predicate;
import lipsanon.format.metadata.Signature;
import lipsanon.redact.Pseudonyms;

/**
 * Objects of a .NET heap as copies have them: type, length, references and what the runtime's own
 * structures need of them; texts and values replaced. Written in runs, since objects lie side by
 * side.
 */
final class HeapImages {

  static final String STRING = "System.String";

  private static final int RUN = 1 << 20;
  private static final int PAGE = 1 << 12;

  /** Numbers of the library's collections without which they cannot be read. */
  private static final Set<String> STRUCTURE =
      Set.of(
          "size",
          "count",
          "freeCount",
          "freeList",
          "head",
          "tail",
          "headIndex",
          "tailIndex",
          "next");

  private final CoreMemory memory;
  private final RuntimeTypes types;
  private final FieldLists lists;
  private final Touched touched;
  private final Pseudonyms pseudonyms;
  private final Predicate<String> flags;
  private final Output out;
  private final Map<RuntimeType, Plan> plans = new HashMap<>();
  private final byte[] run = new byte[RUN];
  private long runPlace;
  private int runLength;

  /** Takes bytes for a place of the file. */
  interface Output {
    void put(long place, byte[] bytes, int length) throws IOException;
  }

  /** What of an object's memory is data of which kind. */
  private enum Data {
    NONE,
    TEXT,
    BYTES,
    VALUES
  }

  /**
   * How objects of a type are treated.
   *
   * @param data whether the components are contents, and of which kind
   * @param kept begins and lengths of fields that stay, from the object's begin or an element's
   * @param replaced the same of fields that get pseudonyms
   */
  private record Plan(Data data, int[] kept, int[] replaced) {}

  HeapImages(
      DumpedRuntime runtime,
      Touched touched,
      Pseudonyms pseudonyms,
      Predicate<String> flags,
      Output out) {
    this.memory = runtime.memory;
    this.types = runtime.types;
    this.lists = runtime.lists;
    this.touched = touched;
    this.pseudonyms = pseudonyms;
    this.flags = flags;
    this.out = out;
  }

  /** Writes one; they come in the order of their addresses. */
  void object(long address, RuntimeType type, long bytes) throws IOException {
    if (bytes > Integer.MAX_VALUE - 16 || !memory.holds(address, bytes)) {
      return;
    }
    Plan plan = plan(type);
    byte[] raw = memory.bytes(address, (int) bytes);
    byte[] image = new byte[raw.length];
    System.arraycopy(raw, 0, image, 0, 8);
    long count = type.componentBytes == 0 ? 0 : memory.u4(address + 8);
    int begin = type.componentBytes == 0 ? 8 : type.array() ? (int) type.dataOffset() : 12;
    if (type.componentBytes > 0) {
      System.arraycopy(raw, 8, image, 8, Math.min(begin, raw.length) - 8);
    }
    int end = (int) Math.min(raw.length, begin + count * type.componentBytes);
    if (plan.data == Data.NONE) {
      references(address, raw, image, begin);
    }
    if (plan.data != Data.NONE && end > begin) {
      System.arraycopy(raw, begin, image, begin, end - begin);
      replace(plan.data, image, begin, end);
    }
    if (type.componentBytes == 0) {
      // fields of a structure in a box are counted from behind the type
      fields(plan, raw, image, type.value() ? 8 : 0);
    } else if (plan.kept.length > 0) {
      for (long i = 0; i < count; i++) {
        fields(plan, raw, image, begin + (int) (i * type.componentBytes));
      }
    }
    put(address, image);
  }

  /** What was looked at in the object: references above all, and what is read of the runtime's. */
  private void references(long address, byte[] raw, byte[] image, int begin) {
    for (int i = begin; i + Touched.GRAIN <= raw.length; i += Touched.GRAIN) {
      if (touched.at(memory.place(address + i))) {
        System.arraycopy(raw, i, image, i, Touched.GRAIN);
      }
    }
  }

  private void replace(Data data, byte[] image, int from, int to) {
    if (data == Data.VALUES) {
      pseudonyms.values(image, from, to);
    } else if (data == Data.BYTES) {
      pseudonyms.text(image, from, to);
    } else {
      String text = new String(image, from, to - from, StandardCharsets.UTF_16LE);
      byte[] other = pseudonyms.text(text).getBytes(StandardCharsets.UTF_16LE);
      System.arraycopy(other, 0, image, from, Math.min(other.length, to - from));
    }
  }

  private void fields(Plan plan, byte[] raw, byte[] image, int base) {
    for (int i = 0; i < plan.kept.length; i += 2) {
      int at = base + plan.kept[i];
      int length = Math.min(plan.kept[i + 1], raw.length - at);
      if (length > 0) {
        System.arraycopy(raw, at, image, at, length);
      }
    }
    for (int i = 0; i < plan.replaced.length && pseudonyms.keepEquality(); i += 2) {
      int at = base + plan.replaced[i];
      int width = plan.replaced[i + 1];
      if (at + width <= raw.length) {
        long value = 0;
        for (int k = width - 1; k >= 0; k--) {
          value = value << 8 | raw[at + k] & 0xff;
        }
        value = pseudonyms.number(value, width);
        for (int k = 0; k < width; k++) {
          image[at + k] = (byte) value;
          value >>>= 8;
        }
      }
    }
  }

  private Plan plan(RuntimeType type) throws IOException {
    Plan known = plans.get(type);
    if (known == null) {
      known = make(type);
      plans.put(type, known);
    }
    return known;
  }

  private Plan make(RuntimeType type) throws IOException {
    if (type.name.equals(STRING)) {
      return new Plan(Data.TEXT, new int[0], new int[0]);
    }
    if (type.componentBytes == 0) {
      return fields(type, Data.NONE);
    }
    if (type.is(RuntimeType.HAS_REFERENCES)) {
      RuntimeType element = types.ofHandle(type.element);
      boolean structures = element != null && element.value();
      return structures ? fields(element, Data.NONE) : new Plan(Data.NONE, new int[0], new int[0]);
    }
    RuntimeType element = types.ofHandle(type.element);
    Data data =
        switch (type.name) {
          case "System.Char[]" -> Data.TEXT;
          case "System.Byte[]", "System.SByte[]" -> Data.BYTES;
          default -> Data.VALUES;
        };
    boolean structures = element != null && element.value() && data == Data.VALUES;
    return structures ? fields(element, data) : new Plan(data, new int[0], new int[0]);
  }

  private Plan fields(RuntimeType type, Data data) throws IOException {
    List<Integer> kept = new ArrayList<>();
    List<Integer> replaced = new ArrayList<>();
    for (FieldLists.Slot slot : lists.slots(type)) {
      int width = width(slot.element());
      if (width == 0) {
        continue;
      }
      String name = slot.path().substring(slot.path().lastIndexOf('.') + 1);
      String bare = name.replaceFirst("^_+", "");
      boolean structure =
          slot.owner().startsWith("System.Collections.") && STRUCTURE.contains(bare);
      boolean flag = slot.element() == Signature.BOOLEAN && flags.test(name);
      List<Integer> into = structure || flag ? kept : replaced;
      if (into == kept || data == Data.NONE && type.componentBytes == 0) {
        into.add((int) slot.offset());
        into.add(width);
      }
    }
    return new Plan(
        data,
        kept.stream().mapToInt(Integer::intValue).toArray(),
        replaced.stream().mapToInt(Integer::intValue).toArray());
  }

  private static int width(int element) {
    return switch (element) {
      case Signature.BOOLEAN, Signature.I1, Signature.U1 -> 1;
      case Signature.CHAR, Signature.I2, Signature.U2 -> 2;
      case Signature.I4, Signature.U4, Signature.R4 -> 4;
      case Signature.I8, Signature.U8, Signature.R8 -> 8;
      default -> 0;
    };
  }

  private void put(long address, byte[] image) throws IOException {
    long place = memory.place(address);
    if (memory.place(address + image.length - 1) == place + image.length - 1) {
      add(place, image, 0, image.length);
      return;
    }
    // where one stretch of memory ends and another begins
    for (int done = 0; done < image.length; ) {
      int some = (int) Math.min(image.length - done, PAGE - (address + done & PAGE - 1));
      add(memory.place(address + done), image, done, some);
      done += some;
    }
  }

  private void add(long place, byte[] bytes, int from, int length) throws IOException {
    if (place < 0) {
      return;
    }
    if (place != runPlace + runLength || runLength + length > RUN) {
      flush();
      runPlace = place;
    }
    if (length > RUN) {
      byte[] large = new byte[length];
      System.arraycopy(bytes, from, large, 0, length);
      out.put(place, large, length);
      runPlace = place + length;
      return;
    }
    System.arraycopy(bytes, from, run, runLength, length);
    runLength += length;
  }

  /** Writes what is gathered. */
  void flush() throws IOException {
    if (runLength > 0) {
      out.put(runPlace, run, runLength);
      runPlace += runLength;
      runLength = 0;
    }
  }
}
