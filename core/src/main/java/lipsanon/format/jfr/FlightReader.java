package lipsanon.format.jfr;

import java.io.EOFException;
import java.io.IOException;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import jdk.jfr.consumer.RecordedClass;
import jdk.jfr.consumer.RecordedEvent;
import jdk.jfr.consumer.RecordedFrame;
import jdk.jfr.consumer.RecordedObject;
import jdk.jfr.consumer.RecordedStackTrace;
import jdk.jfr.consumer.RecordedThread;
import jdk.jfr.consumer.RecordingFile;
import lipsanon.format.hprof.JavaNames;
import lipsanon.io.CorruptInputException;
import lipsanon.live.Flight;

/**
 * Reads recordings event by event, so that memory is taken only by the samples that are kept.
 * Objects that survived are told again at each look: those of the last one count.
 */
public final class FlightReader {
  /** Frames of a stack that are kept. */
  private static final int DEEPEST = 64;

  private static final int LONGEST_CHAIN = 200;

  /** Samples that are kept; at 1,000 a second a recording of an hour. */
  private static final int MOST_SAMPLES = 4_000_000;

  /** The machinery of recordings allocates too. */
  private static final String OWN_THREAD = "(JFR|RMI TCP|Attach Listener).*";

  private final List<Flight.Allocation> allocations = new ArrayList<>();
  private final List<Flight.AfterCollection> heap = new ArrayList<>();
  private final List<Flight.Survivor> survivors = new ArrayList<>();
  private final Map<Long, String> collectors = new HashMap<>();
  private final Map<Long, long[]> after = new HashMap<>();
  private final Map<List<Flight.Frame>, List<Flight.Frame>> stacks = new HashMap<>();

  /** By allocation: the number of its thread, or -1 where its size is exact. */
  private final List<Long> allocators = new ArrayList<>();

  /** Threads that began while it was recorded. */
  private final Set<Long> youngThreads = new HashSet<>();

  private Instant lastLook = Instant.MIN;
  private long begin = Long.MAX_VALUE;
  private long end = Long.MIN_VALUE;

  private FlightReader() {}

  /**
   * Reads a recording.
   *
   * @throws CorruptInputException if nothing of it can be read
   */
  public static Flight read(Path file) throws IOException {
    FlightFormat.check(file);
    FlightReader reader = new FlightReader();
    boolean partial = false;
    try (RecordingFile recording = new RecordingFile(file)) {
      while (recording.hasMoreEvents()) {
        reader.event(recording.readEvent());
      }
    } catch (EOFException | RuntimeException e) {
      // what the JDK's reader throws on damaged events is not limited to IOException
      partial = true;
    } catch (IOException e) {
      partial = true;
    }
    if (partial && reader.end == Long.MIN_VALUE) {
      throw new CorruptInputException(
          file.toString(), 0, "events that cannot be read", "a recording of a Java VM");
    }
    return reader.flight(partial);
  }

  private Flight flight(boolean partial) {
    after.forEach(
        (id, value) ->
            heap.add(
                new Flight.AfterCollection(value[0], value[1], collectors.getOrDefault(id, ""))));
    heap.sort(Comparator.comparingLong(Flight.AfterCollection::atMillis));
    List<Flight.Allocation> kept = withoutLifetimes();
    return new Flight(
        begin == Long.MAX_VALUE ? 0 : begin,
        end == Long.MIN_VALUE ? 0 : end,
        List.copyOf(kept),
        List.copyOf(survivors),
        List.copyOf(heap),
        partial);
  }

  /**
   * The first sample of a thread carries all that it has allocated in its life: nobody knows how
   * much of that was before the recording, unless the thread began while it was recorded. Events
   * come in no order.
   */
  private List<Flight.Allocation> withoutLifetimes() {
    Map<Long, Integer> firsts = new HashMap<>();
    for (int i = 0; i < allocations.size(); i++) {
      long thread = allocators.get(i);
      if (thread >= 0 && !youngThreads.contains(thread)) {
        Integer known = firsts.get(thread);
        if (known == null || allocations.get(i).atMillis() < allocations.get(known).atMillis()) {
          firsts.put(thread, i);
        }
      }
    }
    Set<Integer> left = new HashSet<>(firsts.values());
    List<Flight.Allocation> kept = new ArrayList<>();
    for (int i = 0; i < allocations.size(); i++) {
      if (!left.contains(i)) {
        kept.add(allocations.get(i));
      }
    }
    kept.sort(Comparator.comparingLong(Flight.Allocation::atMillis));
    return kept;
  }

  private void event(RecordedEvent event) {
    long at = event.getEndTime().toEpochMilli();
    switch (event.getEventType().getName()) {
      case "jdk.ObjectAllocationSample" -> allocation(event, at, "weight", false);
        // older VMs, and recordings made elsewhere
      case "jdk.ObjectAllocationInNewTLAB" -> allocation(event, at, "tlabSize", true);
      case "jdk.ObjectAllocationOutsideTLAB" -> allocation(event, at, "allocationSize", true);
      case "jdk.OldObjectSample" -> survivor(event);
      case "jdk.ThreadStart" -> {
        RecordedThread started = event.getValue("thread");
        youngThreads.add(started == null ? -1L : started.getId());
        return;
      }
      case "jdk.GCHeapSummary" -> {
        if ("After GC".equals(event.getString("when"))) {
          after.put(event.getLong("gcId"), new long[] {at, event.getLong("heapUsed")});
        }
      }
      case "jdk.GarbageCollection" ->
          collectors.put(event.getLong("gcId"), event.getString("name"));
      default -> {
        return;
      }
    }
    begin = Math.min(begin, at);
    end = Math.max(end, at);
  }

  private void allocation(RecordedEvent event, long at, String weight, boolean exact) {
    RecordedThread thread = event.getThread();
    String name = name(thread);
    if (name.matches(OWN_THREAD) || allocations.size() == MOST_SAMPLES) {
      return;
    }
    allocators.add(exact ? -1L : thread == null ? 0L : thread.getId());
    allocations.add(
        new Flight.Allocation(
            at,
            type(event.getValue("objectClass")),
            Math.max(0, event.getLong(weight)),
            name,
            stack(event.getStackTrace())));
  }

  private static String name(RecordedThread thread) {
    if (thread == null) {
      return "";
    }
    String name = thread.getJavaName();
    return name == null ? String.valueOf(thread.getOSName()) : name;
  }

  private void survivor(RecordedEvent event) {
    Instant look = event.getStartTime();
    if (look.isAfter(lastLook)) {
      lastLook = look;
      survivors.clear();
    } else if (look.isBefore(lastLook)) {
      return;
    }
    RecordedObject object = event.getValue("object");
    if (object == null || name(event.getThread()).matches(OWN_THREAD)) {
      return;
    }
    long elements = event.hasField("arrayElements") ? event.getInt("arrayElements") : -1;
    Instant born = event.getInstant("allocationTime");
    // older VMs do not tell the age, nor what was in use then
    Duration age =
        event.hasField("objectAge") ? event.getDuration("objectAge") : Duration.between(born, look);
    survivors.add(
        new Flight.Survivor(
            type(object.getValue("type")),
            born.toEpochMilli(),
            age.toMillis(),
            event.hasField("lastKnownHeapUsage") ? event.getLong("lastKnownHeapUsage") : 0,
            Math.max(-1, elements),
            name(event.getThread()),
            stack(event.getStackTrace()),
            chain(object),
            root(event)));
  }

  private static String root(RecordedEvent event) {
    RecordedObject root = event.getValue("root");
    if (root == null) {
      return "";
    }
    String description = root.getString("description");
    return description == null || description.isEmpty()
        ? String.valueOf(root.getString("type"))
        : description;
  }

  private static List<Flight.Link> chain(RecordedObject object) {
    List<Flight.Link> chain = new ArrayList<>();
    RecordedObject referrer = object.getValue("referrer");
    while (referrer != null && chain.size() < LONGEST_CHAIN) {
      RecordedObject holder = referrer.getValue("object");
      if (holder == null) {
        break;
      }
      RecordedObject field = referrer.getValue("field");
      String description = holder.getString("description");
      chain.add(
          new Flight.Link(
              type(holder.getValue("type")),
              field == null ? "" : String.valueOf(field.getString("name")),
              field != null && (field.getShort("modifiers") & 8) != 0,
              description == null ? "" : description));
      referrer = holder.getValue("referrer");
    }
    return chain;
  }

  private List<Flight.Frame> stack(RecordedStackTrace trace) {
    if (trace == null) {
      return List.of();
    }
    List<Flight.Frame> frames = new ArrayList<>();
    for (RecordedFrame frame : trace.getFrames()) {
      if (frames.size() == DEEPEST) {
        break;
      }
      if (frame.getMethod() == null || frame.getMethod().isHidden()) {
        continue;
      }
      frames.add(
          new Flight.Frame(
              type(frame.getMethod().getType()),
              frame.getMethod().getName(),
              frame.getLineNumber()));
    }
    // many samples share a stack
    return stacks.computeIfAbsent(List.copyOf(frames), same -> same);
  }

  /** A class's name as heap dumps have it. */
  private static String type(RecordedClass type) {
    if (type == null || type.getName() == null) {
      return "?";
    }
    return JavaNames.of(type.getName());
  }
}
