package lipsanon.format.elfcore;

import java.io.IOException;
import java.util.List;
import java.util.Map;
import lipsanon.format.metadata.Signature;
import lipsanon.index.FieldValue;
import lipsanon.index.Snapshot;
import lipsanon.index.Via;

/** Says the values of fields and elements as C# would write them. */
final class CoreValues {
  private final Snapshot snapshot;
  private final CoreMemory memory;
  private final List<Map<Long, String>> enums;

  CoreValues(Snapshot snapshot, CoreMemory memory, List<Map<Long, String>> enums) {
    this.snapshot = snapshot;
    this.memory = memory;
    this.enums = enums;
  }

  /**
   * A value.
   *
   * @param via where it stands
   * @param type its type's name
   * @param element its element type
   * @param names which enumeration names it, or -1
   * @param at its address
   */
  FieldValue value(Via via, String type, int element, int names, long at) throws IOException {
    if (Signature.isReference(element)) {
      long target = memory.u8(at);
      int node = target == 0 ? -1 : snapshot.nodeOf(target);
      String text = target == 0 ? "null" : "0x" + Long.toHexString(target);
      return new FieldValue(
          via, "reference", target != 0 && node < 0 ? text + " (absent)" : text, node);
    }
    int known = element == Signature.VALUE_TYPE ? WellKnown.text(type) : WellKnown.NONE;
    if (known != WellKnown.NONE) {
      long second = WellKnown.bytes(known) > 8 ? memory.u8(at + 8) : 0;
      return new FieldValue(via, type, WellKnown.text(known, memory.u8(at), second), -1);
    }
    String word = names >= 0 ? type : Signature.keyword(element);
    return new FieldValue(via, word.isEmpty() ? type : word, number(element, names, at), -1);
  }

  /** A number, truth value or character. */
  String number(int element, int names, long at) throws IOException {
    int bytes = Signature.bytes(element);
    if (bytes == 0) {
      return "(not read)";
    }
    long bits = 0;
    byte[] raw = memory.bytes(at, bytes);
    for (int i = 0; i < bytes; i++) {
      bits |= (raw[i] & 0xffL) << Byte.SIZE * i;
    }
    if (names >= 0) {
      String name = enums.get(names).get(bits);
      if (name != null) {
        return name;
      }
    }
    int shift = Long.SIZE - Byte.SIZE * bytes;
    return switch (element) {
      case Signature.BOOLEAN -> bits == 0 ? "false" : "true";
      case Signature.CHAR -> character((char) bits);
      case Signature.R4 -> Float.toString(Float.intBitsToFloat((int) bits));
      case Signature.R8 -> Double.toString(Double.longBitsToDouble(bits));
      case Signature.U1, Signature.U2, Signature.U4, Signature.U8, Signature.U ->
          Long.toUnsignedString(bits);
      case Signature.POINTER, Signature.FUNCTION -> "0x" + Long.toHexString(bits);
      default -> Long.toString(bits << shift >> shift);
    };
  }

  private static String character(char c) {
    return c < ' ' || c == 0x7f ? String.format("'\\u%04x'", (int) c) : "'" + c + "'";
  }
}
