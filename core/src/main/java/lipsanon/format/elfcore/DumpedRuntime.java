package lipsanon.format.elfcore;

import java.io.IOException;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import lipsanon.io.ByteSource;
import lipsanon.io.InputException;
import lipsanon.io.TruncatedInputException;
import lipsanon.io.UnsupportedInputException;

/**
 * The .NET runtime in a dump: its own description, its heap, threads and types, found and checked.
 * The order of the work: the frame of the file, the runtime's library, what it says of itself, the
 * collector's variables, threads and segments.
 */
final class DumpedRuntime {
  /** Where in the table the collector's variables are; in version 10 all is a word before. */
  private static final int DAC_COLLECTOR_OF_NINE = 20;

  /** From there on. */
  private static final int DAC_THREAD_STORE = -4;

  private static final int DAC_FREE_TABLE = 37;
  private static final Pattern VERSION =
      Pattern.compile("/Microsoft\\.NETCore\\.App/(\\d{1,4})\\.([^/]*)/libcoreclr\\.so");
  private static final int FIRST_VERSION = 9;

  private final ByteSource source;
  final CoreFile core;
  final CoreMemory memory;

  /** Where the runtime keeps its fields. */
  RuntimeContract contract;

  GcHeap heap;
  RuntimeTypes types;
  FieldLists lists;
  List<RuntimeThreads.One> threads;

  /** As the runtime's folder is called; "" if it is not told. */
  String version = "";

  /** The table of free blocks. */
  long freeTable;

  private DumpedRuntime(ByteSource source, CoreFile core) {
    this.source = source;
    this.core = core;
    this.memory = core.memory();
  }

  /**
   * Opens a dump.
   *
   * @throws InputException if there is nothing in it that can be read
   */
  static DumpedRuntime open(ByteSource source) throws IOException {
    return open(source, null);
  }

  /** The same; tells what it looks at. */
  static DumpedRuntime open(ByteSource source, Touched touched) throws IOException {
    DumpedRuntime runtime = new DumpedRuntime(source, CoreFile.read(source));
    runtime.memory.tell(touched);
    try {
      runtime.open();
    } catch (InputException e) {
      if (!runtime.core.cutOff()) {
        throw e;
      }
      throw new TruncatedInputException(
          source.name(), source.size(), "the memory that tells of the runtime and its heap");
    }
    return runtime;
  }

  private void open() throws IOException {
    versionOf();
    RuntimeImage image = RuntimeImage.find(core);
    long table = image.symbol("g_dacTable");
    heap = table == 0 ? null : GcHeap.find(memory, table);
    if (heap == null) {
      throw new UnsupportedInputException(
          source.name(),
          table == 0
              ? "is the dump of a process without a .NET runtime that can be found"
              : "does not hold the collector's own variables: it was taken without the heap (types 1"
                  + " and 3), or is of another .NET version than 9 and 10");
    }
    heap.read();
    contract =
        RuntimeContract.read(
            memory,
            image.symbol("DotNetRuntimeContractDescriptor"),
            heap.place() >= DAC_COLLECTOR_OF_NINE);
    long store = contract.global("ThreadStore");
    threads =
        RuntimeThreads.read(
            memory,
            contract,
            store != 0 ? store : word(table, DAC_THREAD_STORE),
            core.threads(),
            heap);
    long free = contract.global("FreeObjectMethodTable");
    freeTable = memory.u8(free != 0 ? free : word(table, DAC_FREE_TABLE));
    types = new RuntimeTypes(memory, contract, freeTable);
    lists = new FieldLists(types);
    whole();
  }

  /** A word of the table of what tools may read, counted from that of the collector. */
  private long word(long table, int from) throws IOException {
    return memory.u8(table + 8L * (heap.place() + from));
  }

  /** Refuses a dump that was taken without the heap: of that it has some pages at most. */
  private void whole() throws IOException {
    long bytes = 0;
    long there = 0;
    for (GcHeap.Segment segment : heap.segments()) {
      bytes += segment.end() - segment.start();
      for (CoreMemory.Part part : memory.parts()) {
        long from = Math.max(part.start(), segment.start());
        there += Math.max(0, Math.min(part.end(), segment.end()) - from);
      }
    }
    if (there < bytes / 2 && !core.cutOff()) {
      throw new UnsupportedInputException(
          source.name(),
          "holds no objects: it was taken without the heap (types 1 and 3); `lipsanon capture PID"
              + " --dump` takes it with it");
    }
  }

  private void versionOf() throws IOException {
    for (CoreFile.MappedFile file : core.files()) {
      Matcher matcher = VERSION.matcher(file.name());
      if (matcher.find()) {
        version = matcher.group(1) + "." + matcher.group(2);
        if (Integer.parseInt(matcher.group(1)) < FIRST_VERSION) {
          throw new UnsupportedInputException(
              source.name(), "is of .NET " + version + "; versions from 9 on can be read");
        }
      }
    }
  }
}
