package lipsanon.format.elfcore;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import lipsanon.io.InputException;

/** The places of all static variables that are references, those of each thread included. */
final class VariableSlots {
  private final CoreMemory memory;
  private final RuntimeTypes types;
  private final FieldLists lists;
  private final List<RuntimeThreads.One> threads;
  private final Map<Long, Statics.Variable> statics = new HashMap<>();
  private final Map<Long, String> threadStatics = new HashMap<>();
  private long[] slots = {};

  private VariableSlots(DumpedRuntime runtime) {
    memory = runtime.memory;
    types = runtime.types;
    lists = runtime.lists;
    threads = runtime.threads;
  }

  /** Finds them by the types, which must all be known. */
  static VariableSlots of(DumpedRuntime runtime) throws IOException {
    VariableSlots slots = new VariableSlots(runtime);
    slots.variables();
    return slots;
  }

  /** Addresses, ascending. */
  long[] slots() {
    return slots;
  }

  /** The variable at a place, or null. */
  Statics.Variable at(long slot) {
    return statics.get(slot);
  }

  Collection<Statics.Variable> all() {
    return statics.values();
  }

  /** Whose thread a variable is, in words; null: the program has it once. */
  String threadOf(long slot) {
    return threadStatics.get(slot);
  }

  /** Whether any lies in an object. */
  boolean anyWithin(long address, long bytes) {
    if (slots.length == 0 || slots[slots.length - 1] < address || slots[0] >= address + bytes) {
      return false;
    }
    int at = Arrays.binarySearch(slots, address);
    at = at < 0 ? -at - 1 : at;
    return at < slots.length && slots[at] < address + bytes;
  }

  private void variables() throws IOException {
    for (RuntimeType of : new ArrayList<>(types.all())) {
      try {
        for (Statics.Variable variable : Statics.of(types, lists, of)) {
          if (variable.reference()) {
            statics.put(variable.slot(), variable);
          }
        }
        for (RuntimeThreads.One thread : threads) {
          for (Statics.Variable variable : Statics.of(types, lists, of, thread)) {
            if (variable.reference()) {
              statics.put(variable.slot(), variable);
              threadStatics.put(variable.slot(), threadName(thread));
            }
          }
        }
      } catch (InputException e) {
        // a type whose own description is not in the dump has no variables to tell
        continue;
      }
    }
    slots = statics.keySet().stream().mapToLong(Long::longValue).sorted().toArray();
  }

  /** What a thread is called, in words. */
  String threadName(RuntimeThreads.One thread) throws IOException {
    if (thread.object() == 0 || !memory.holds(thread.object(), 24)) {
      return "a thread";
    }
    RuntimeType of = types.at(memory.u8(thread.object()) & ~7L);
    if (of != null) {
      for (FieldLists.Slot slot : lists.slots(of)) {
        if (slot.path().equals("_name")) {
          String name = string(memory.u8(thread.object() + slot.offset()));
          if (!name.isEmpty()) {
            return "thread \"" + name + "\"";
          }
        }
      }
    }
    return threads.indexOf(thread) == 0 ? "the first thread" : "a thread without a name";
  }

  private String string(long address) throws IOException {
    if (address == 0 || !memory.holds(address, 12)) {
      return "";
    }
    int length = (int) Math.min(200, memory.u4(address + 8));
    byte[] text =
        memory.holds(address + 12, 2L * length)
            ? memory.bytes(address + 12, 2 * length)
            : new byte[0];
    return new String(text, StandardCharsets.UTF_16LE);
  }
}
