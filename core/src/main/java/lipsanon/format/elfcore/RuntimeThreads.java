package lipsanon.format.elfcore;

import java.io.IOException;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;

/** The runtime's threads in a dump. */
final class RuntimeThreads {
  private static final int MOST_THREADS = 1 << 16;
  private static final int STACK_BASE = 0x78;
  private static final int LARGEST_STACK = 256 << 20;
  private static final int THREAD_WORDS = 0x800;
  private static final int LOCAL_DATA_BACK = 24;

  private RuntimeThreads() {}

  /**
   * A thread.
   *
   * @param address of the runtime's structure
   * @param object address of its object in the heap, or 0
   * @param registers its registers, or null where the system's thread is not in the dump
   * @param stackFrom the lowest word of its stack in use
   * @param stackTo behind the highest one
   * @param localData what the runtime keeps its thread-static variables in, or 0
   */
  record One(
      long address, long object, long[] registers, long stackFrom, long stackTo, long localData) {}

  /** Reads all threads, and tells the heap where each allocates. */
  static List<One> read(
      CoreMemory memory,
      RuntimeContract contract,
      long storeVariable,
      Map<Integer, long[]> registers,
      GcHeap heap)
      throws IOException {
    List<One> threads = new ArrayList<>();
    if (!memory.holds(storeVariable, 8)) {
      return threads;
    }
    long store = memory.u8(storeVariable);
    int link = contract.offset("Thread.LinkNext");
    int locals = contract.offset("Thread.RuntimeThreadLocals", 32);
    int allocates =
        contract.offset("RuntimeThreadLocals.AllocContext", 0)
            + contract.offset("EEAllocContext.GCAllocationContext", 0)
            + contract.offset("GCAllocContext.Pointer", 0);
    Set<Long> seen = new HashSet<>();
    long at = memory.u8(store + contract.offset("ThreadStore.FirstThreadLink"));
    while (at != 0 && seen.add(at) && seen.size() < MOST_THREADS && memory.holds(at, 8)) {
      long thread = at - link;
      at = memory.u8(at);
      if (!memory.holds(thread, contract.offset("Thread.OSId", 296) + 16L)) {
        continue;
      }
      long own = memory.u8(thread + locals);
      if (memory.holds(own + allocates, 16)) {
        heap.context(own + allocates);
      }
      threads.add(one(memory, contract, thread, registers));
    }
    return threads;
  }

  private static One one(
      CoreMemory memory, RuntimeContract contract, long thread, Map<Integer, long[]> registers)
      throws IOException {
    int number = memory.i4(thread + contract.offset("Thread.OSId", 296));
    long handle = memory.u8(thread + contract.offset("Thread.GCHandle", 304));
    long object = memory.holds(handle, 8) ? memory.u8(handle) : 0;
    long[] own = registers.get(number);
    long from = 0;
    long to = 0;
    if (own != null && memory.holds(thread + STACK_BASE, 8)) {
      long base = memory.u8(thread + STACK_BASE);
      long pointer = own[ElfFormat.REGISTER_RSP];
      if ((base & 0xfff) == 0 && base > pointer && base - pointer < LARGEST_STACK) {
        from = pointer & ~7L;
        to = base;
      }
    }
    return new One(thread, object, own, from, to, localData(memory, thread));
  }

  /** The word of a thread that refers to something which refers back to the thread. */
  private static long localData(CoreMemory memory, long thread) throws IOException {
    for (int i = 0; i < THREAD_WORDS; i += 8) {
      if (!memory.holds(thread + i, 8)) {
        return 0;
      }
      long word = memory.u8(thread + i);
      if (i > LOCAL_DATA_BACK
          && (word & 7) == 0
          && word != thread
          && memory.holds(word, LOCAL_DATA_BACK + 8)
          && memory.u8(word + LOCAL_DATA_BACK) == thread) {
        return word;
      }
    }
    return 0;
  }
}
