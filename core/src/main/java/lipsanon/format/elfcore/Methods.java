package lipsanon.format.elfcore;

import java.io.IOException;
import lipsanon.format.metadata.Metadata;
import lipsanon.io.InputException;

/** Names of the methods that delegates call. */
final class Methods {
  private static final int JUMP_BYTES = 6;
  private static final int ROW_BITS = 12;

  private Methods() {}

  /**
   * The runtime's description of the method that a delegate calls: what the code's first
   * instruction jumps to stands in front of it.
   *
   * @return 0: not found
   */
  static long description(CoreMemory memory, long delegate, long plain, long other)
      throws IOException {
    long code = other < 0 ? 0 : memory.u8(delegate + other);
    code = code == 0 ? memory.u8(delegate + plain) : code;
    if (!memory.holds(code, JUMP_BYTES) || memory.u2(code) != 0x25ff) {
      return 0;
    }
    long data = code + JUMP_BYTES + memory.i4(code + 2);
    return memory.holds(data + 8, 8) ? memory.u8(data + 8) : 0;
  }

  /** {@code Class.Method}; "" if the description is none. */
  static String name(RuntimeTypes types, long description) {
    CoreMemory memory = types.memory();
    RuntimeContract contract = types.contract();
    try {
      int index = memory.u1(description + contract.offset("MethodDesc.ChunkIndex", 2));
      long chunk = description - 8L * index - 24;
      RuntimeType owner =
          types.at(memory.u8(chunk + contract.offset("MethodDescChunk.MethodTable", 0)));
      if (owner == null || owner.module == null) {
        return "";
      }
      int range = memory.u2(chunk + contract.offset("MethodDescChunk.FlagsAndTokenRange", 18));
      int rest = memory.u2(description + contract.offset("MethodDesc.Flags3AndTokenRemainder", 0));
      int row = (range & 0xfff) << ROW_BITS | rest & 0xfff;
      Metadata metadata = owner.module.metadata();
      int from = metadata.value(Metadata.TYPE_DEF, owner.row, 5);
      int to =
          owner.row < metadata.rows(Metadata.TYPE_DEF)
              ? metadata.value(Metadata.TYPE_DEF, owner.row + 1, 5)
              : metadata.rows(Metadata.METHOD) + 1;
      if (row < from || row >= to) {
        return "";
      }
      return owner.name + "." + metadata.text(metadata.value(Metadata.METHOD, row, 3));
    } catch (InputException e) {
      return "";
    } catch (IOException e) {
      return "";
    }
  }
}
