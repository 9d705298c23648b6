package lipsanon.format.nettrace;

import java.io.IOException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import lipsanon.io.ByteSource;
import lipsanon.io.Progress;
import lipsanon.io.UnsupportedInputException;
import lipsanon.live.Flight;

/**
 * Reads an event stream as a recording of allocations: a .NET runtime tells one for about each 100
 * kB that a thread allocates, with the stack; names of methods come at the end.
 *
 * <pre>
 * AllocationTick --> amount u4, kind u4, runtime u2, amount u8, type u8, name z16, heap u4,
 *                    address u8, size u8
 * MethodDCEnd    --> id u8, module u8, start u8, size u4, token u4, flags u4, type z16, name z16, ...
 * MethodDCEndILToNativeMap --> id u8, version u8, extent u1, n u2, n × intermediate i4,
 *                              n × machine i4, ...            (negative: before or behind the code)
 * ModuleDCEnd    --> id u8, assembly u8, flags u4, u4, path z16, ...
 * </pre>
 */
public final class AllocationTicks {
  private static final int TICK = 10;
  private static final int OFFSETS = 150;
  private static final int MODULE = 154;
  private static final int MOST = 4_000_000;

  /** What the values after collections are said to come from. */
  private static final String COLLECTOR = ".NET";

  private final NettraceStream stream;
  private final List<Tick> ticks = new ArrayList<>();
  private final TreeMap<Long, Method> methods = new TreeMap<>();
  private final Map<Long, Offsets> offsets = new HashMap<>();
  private final Map<Long, String> modules = new HashMap<>();
  private final Map<Long, PortablePdb> symbols = new HashMap<>();
  private final List<Flight.AfterCollection> heap = new ArrayList<>();
  private final Map<List<Flight.Frame>, List<Flight.Frame>> shared = new HashMap<>();

  /** An allocation, its stack yet without names. */
  private record Tick(long atMillis, String type, long bytes, long thread, int stack) {}

  /** Code of a method. */
  private record Method(
      long id, long start, long end, long module, int token, String type, String name) {}

  /** From places in a method's machine code to places in its intermediate code; both ascending. */
  private record Offsets(int[] code, int[] intermediate) {}

  private AllocationTicks(ByteSource source) {
    this.stream = new NettraceStream(source);
  }

  /**
   * Reads a stream.
   *
   * @return null if it is a snapshot
   * @throws UnsupportedInputException if it holds neither objects nor allocations
   */
  public static Flight read(ByteSource source) throws IOException {
    AllocationTicks reader = new AllocationTicks(source);
    reader.stream.keepStacks();
    boolean[] snapshot = new boolean[1];
    reader.stream.read(
        event -> {
          snapshot[0] |= event.is(NettraceFormat.RUNTIME, NettraceFormat.BULK_NODE);
          reader.event(event);
        },
        Progress.NONE);
    if (snapshot[0]) {
      return null;
    }
    if (reader.ticks.isEmpty() && reader.heap.isEmpty()) {
      throw new UnsupportedInputException(
          source.name(), "holds neither objects nor allocations: `lipsanon record` records these");
    }
    return reader.flight();
  }

  private void event(NettraceStream.Event event) throws IOException {
    if (event.is(NettraceFormat.RUNDOWN, NettraceFormat.METHOD)) {
      method(event.payload);
    } else if (event.is(NettraceFormat.RUNDOWN, OFFSETS)) {
      offsets(event.payload);
    } else if (event.is(NettraceFormat.RUNDOWN, MODULE)) {
      Payload in = event.payload;
      long module = in.i8();
      in.skip(Long.BYTES + 2 * Integer.BYTES);
      modules.put(module, in.text());
    } else if (event.is(NettraceFormat.RUNTIME, TICK) && ticks.size() < MOST) {
      tick(event);
    } else if (event.is(NettraceFormat.RUNTIME, NettraceFormat.HEAP_STATS)) {
      heap.add(new Flight.AfterCollection(event.atMillis, left(event.payload), COLLECTOR));
    }
  }

  private void method(Payload in) throws IOException {
    long id = in.i8();
    long module = in.i8();
    long start = in.i8();
    int size = in.i4();
    int token = in.i4();
    in.skip(Integer.BYTES);
    String type = in.text();
    long end = start + Integer.toUnsignedLong(size);
    methods.put(start, new Method(id, start, end, module, token, type, in.text()));
  }

  /** The same method may have been compiled several times: the newest code counts. */
  private void offsets(Payload in) throws IOException {
    long method = in.i8();
    in.skip(Long.BYTES + 1);
    int count = in.u2();
    in.need(2 * count * Integer.BYTES);
    long[] pairs = new long[count];
    int[] intermediate = new int[count];
    for (int i = 0; i < count; i++) {
      intermediate[i] = in.i4();
    }
    for (int i = 0; i < count; i++) {
      pairs[i] = (long) in.i4() << Integer.SIZE | i;
    }
    Arrays.sort(pairs);
    int[] code = new int[count];
    int[] sorted = new int[count];
    for (int i = 0; i < count; i++) {
      code[i] = (int) (pairs[i] >>> Integer.SIZE);
      sorted[i] = intermediate[(int) pairs[i]];
    }
    offsets.put(method, new Offsets(code, sorted));
  }

  private static long left(Payload in) throws IOException {
    long sum = 0;
    for (int generation = 0; generation < 4; generation++) {
      sum += in.i8();
      in.i8();
    }
    in.skip(2 * Long.BYTES + 3 * Integer.BYTES + Short.BYTES);
    return sum + in.i8();
  }

  private void tick(NettraceStream.Event event) throws IOException {
    Payload in = event.payload;
    in.skip(2 * Integer.BYTES + Short.BYTES);
    long bytes = in.i8();
    in.skip(Long.BYTES);
    String type = NettraceTypes.generic(in.text());
    ticks.add(new Tick(event.atMillis, type, Math.max(0, bytes), event.thread, event.stack));
  }

  private Flight flight() {
    List<Flight.Allocation> allocations = new ArrayList<>();
    for (Tick tick : ticks) {
      allocations.add(
          new Flight.Allocation(
              tick.atMillis(),
              tick.type(),
              tick.bytes(),
              "thread " + tick.thread(),
              frames(stream.stack(tick.stack()))));
    }
    allocations.sort(Comparator.comparingLong(Flight.Allocation::atMillis));
    long begin = Long.MAX_VALUE;
    long end = 0;
    for (Flight.Allocation one : allocations) {
      begin = Math.min(begin, one.atMillis());
      end = Math.max(end, one.atMillis());
    }
    for (Flight.AfterCollection one : heap) {
      begin = Math.min(begin, one.atMillis());
      end = Math.max(end, one.atMillis());
    }
    return new Flight(
        begin, end, allocations, List.of(), List.copyOf(heap), stream.broken() != null);
  }

  private Flight.Frame frame(Method method, long address) {
    String type = NettraceTypes.generic(method.type());
    Offsets map = offsets.get(method.id());
    String assembly = modules.getOrDefault(method.module(), "");
    if (map != null && !assembly.isEmpty()) {
      // an address on a stack is that of the instruction after the call
      int at = Arrays.binarySearch(map.code(), (int) (address - 1 - method.start()));
      at = at < 0 ? -at - 2 : at;
      while (at > 0 && map.intermediate()[at] < 0) {
        at--;
      }
      PortablePdb pdb = symbols.computeIfAbsent(method.module(), m -> PortablePdb.beside(assembly));
      if (pdb != null && at >= 0 && map.intermediate()[at] >= 0) {
        PortablePdb.Place place = pdb.line(method.token(), map.intermediate()[at]);
        if (place != null) {
          return new Flight.Frame(type, method.name(), place.line(), place.document());
        }
      }
    }
    return new Flight.Frame(type, method.name(), -1, "");
  }

  private List<Flight.Frame> frames(long[] addresses) {
    List<Flight.Frame> frames = new ArrayList<>();
    for (long address : addresses) {
      Map.Entry<Long, Method> method = methods.floorEntry(address);
      if (method != null && address < method.getValue().end()) {
        frames.add(frame(method.getValue(), address));
      }
    }
    return shared.computeIfAbsent(List.copyOf(frames), same -> same);
  }
}
