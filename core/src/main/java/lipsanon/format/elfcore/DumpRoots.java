package lipsanon.format.elfcore;

import java.io.IOException;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import lipsanon.array.Addresses;
import lipsanon.array.IntArray;
import lipsanon.format.dotnet.HeapParts;
import lipsanon.format.dotnet.RootKinds;
import lipsanon.graph.SpecialEdges;
import lipsanon.index.RootInfo;

/**
 * The roots of a dump: static variables, handles, what threads keep for themselves, frozen objects,
 * words on stacks that look like references; and what waits for its finalizer.
 */
final class DumpRoots {
  private final DumpedRuntime runtime;
  private final VariableSlots slots;
  private final List<RuntimeHandles.Handle> handles;
  private final Addresses addresses;
  private final IntArray generation;
  private final SpecialEdges.Pairs finalizer;
  private final List<RootInfo> roots = new ArrayList<>();

  private DumpRoots(
      DumpedRuntime runtime,
      VariableSlots slots,
      List<RuntimeHandles.Handle> handles,
      Addresses addresses,
      IntArray generation,
      SpecialEdges.Pairs finalizer) {
    this.runtime = runtime;
    this.slots = slots;
    this.handles = handles;
    this.addresses = addresses;
    this.generation = generation;
    this.finalizer = finalizer;
  }

  /**
   * Finds them.
   *
   * @param addresses of all objects
   * @param generation of each
   * @param finalizer takes the references of the finalizer's queue
   */
  static List<RootInfo> of(
      DumpedRuntime runtime,
      VariableSlots slots,
      List<RuntimeHandles.Handle> handles,
      Addresses addresses,
      IntArray generation,
      SpecialEdges.Pairs finalizer)
      throws IOException {
    DumpRoots all = new DumpRoots(runtime, slots, handles, addresses, generation, finalizer);
    all.find();
    return all.roots;
  }

  private void find() throws IOException {
    for (long slot : slots.slots()) {
      long object = runtime.memory.holds(slot, 8) ? runtime.memory.u8(slot) : 0;
      int node = object == 0 ? -1 : addresses.rank(object);
      if (node >= 0) {
        Statics.Variable variable = slots.at(slot);
        String thread = slots.threadOf(slot);
        roots.add(
            thread == null
                ? new RootInfo(node, RootKinds.STATIC, variable.name(), -1)
                : new RootInfo(
                    node, RootInfo.THREAD_STATIC, variable.name() + " of " + thread, -1));
      }
    }
    for (RuntimeHandles.Handle handle : handles) {
      int node = addresses.rank(handle.object());
      String kind =
          switch (handle.kind()) {
            case RuntimeHandles.STRONG, RuntimeHandles.SIZED -> RootKinds.HANDLE;
            case RuntimeHandles.PINNED, RuntimeHandles.ASYNC_PINNED -> RootKinds.PINNED;
            case RuntimeHandles.COUNTED -> RootKinds.COUNTED;
            default -> "";
          };
      if (node >= 0 && !kind.isEmpty()) {
        roots.add(new RootInfo(node, kind, "", -1));
      }
    }
    for (RuntimeThreads.One thread : runtime.threads) {
      if (thread.localData() != 0 && runtime.memory.holds(thread.localData() + 8, 8)) {
        int node = addresses.rank(runtime.memory.u8(thread.localData() + 8));
        if (node >= 0) {
          roots.add(new RootInfo(node, RootKinds.THREAD_STATIC, slots.threadName(thread), -1));
        }
      }
    }
    for (int n = 0; n < addresses.count(); n++) {
      if (generation.get(n) == HeapParts.FROZEN) {
        roots.add(new RootInfo(n, RootKinds.FROZEN, "", -1));
      }
    }
    for (RuntimeThreads.One thread : runtime.threads) {
      stack(thread);
    }
    if (!roots.isEmpty()) {
      for (long[] stretch : runtime.heap.finalizing()) {
        for (long at = stretch[0]; at + 8 <= stretch[1]; at += 8) {
          int node = addresses.rank(runtime.memory.u8(at));
          if (node >= 0) {
            finalizer.add(roots.get(0).node(), node);
          }
        }
      }
    }
  }

  /** What looks like a reference on a thread's stack, or in its registers. */
  private void stack(RuntimeThreads.One thread) throws IOException {
    Set<Integer> seen = new HashSet<>();
    String name = slots.threadName(thread);
    if (thread.registers() != null) {
      for (long register : thread.registers()) {
        perhaps(register, name, seen);
      }
    }
    for (long at = thread.stackFrom(); at + 8 <= thread.stackTo(); at += 8) {
      if (!runtime.memory.holds(at, 8)) {
        // pages that were never touched
        at = (at | 0xfff) + 1 - 8;
        continue;
      }
      perhaps(runtime.memory.u8(at), name, seen);
    }
  }

  private void perhaps(long word, String thread, Set<Integer> seen) {
    int node = word == 0 || (word & 7) != 0 ? -1 : addresses.rank(word);
    if (node >= 0 && seen.add(node)) {
      roots.add(new RootInfo(node, RootInfo.PERHAPS, thread, -1));
    }
  }
}
