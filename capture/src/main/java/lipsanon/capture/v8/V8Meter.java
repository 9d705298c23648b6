package lipsanon.capture.v8;

import com.fasterxml.jackson.databind.JsonNode;
import java.util.ArrayList;
import java.util.List;
import lipsanon.capture.CaptureException;
import lipsanon.capture.HeapMeter;
import lipsanon.capture.HeapReading;
import lipsanon.capture.LiveRuntime;
import lipsanon.capture.RuntimeInfo;
import lipsanon.capture.TypeCounts;

/**
 * Looks at the heap of a V8 isolate over its inspector. In Node.js the statistics of the heap's
 * spaces are asked by a short expression; a page tells its sums. V8 counts types in whole snapshots
 * only, and does not tell of its collections.
 */
public final class V8Meter implements HeapMeter {
  private static final String STATISTICS =
      "(() => { const v8 = (process.getBuiltinModule ?? require)('v8');"
          + " const all = v8.getHeapStatistics();"
          + " return { used: all.used_heap_size, committed: all.total_physical_size,"
          + " max: all.heap_size_limit, outside: all.external_memory,"
          + " spaces: v8.getHeapSpaceStatistics() }; })()";

  private final V8Capture capture;
  private final boolean node;

  private V8Meter(V8Capture capture, boolean node) {
    this.capture = capture;
    this.node = node;
  }

  /** Connects. */
  public static V8Meter connect(RuntimeInfo info) throws CaptureException {
    return new V8Meter(V8Capture.connect(info), info.kind().equals(RuntimeInfo.NODE));
  }

  @Override
  public HeapReading read() throws CaptureException {
    long now = System.currentTimeMillis();
    if (node) {
      JsonNode all = capture.inspector().evaluate(STATISTICS);
      List<HeapReading.Area> areas = new ArrayList<>();
      for (JsonNode space : all.path("spaces")) {
        long used = space.path("space_used_size").asLong();
        long room = space.path("physical_space_size").asLong();
        if (room > 0) {
          String name = space.path("space_name").asText().replace('_', ' ');
          areas.add(new HeapReading.Area(name, used, Math.max(used, room), -1, true));
        }
      }
      long outside = all.path("outside").asLong();
      areas.add(new HeapReading.Area("outside the heap", outside, outside, -1, false));
      return new HeapReading(
          now,
          all.path("used").asLong(-1),
          all.path("committed").asLong(-1),
          all.path("max").asLong(-1),
          -1,
          -1,
          -1,
          areas);
    }
    JsonNode usage = capture.inspector().call("Runtime.getHeapUsage");
    long used = usage.path("usedSize").asLong(-1);
    long total = usage.path("totalSize").asLong(-1);
    List<HeapReading.Area> areas = new ArrayList<>();
    areas.add(new HeapReading.Area("script objects", used, total, -1, true));
    beside(areas, "elements and styles", usage.path("embedderHeapUsedSize").asLong(-1));
    beside(areas, "buffers", usage.path("backingStorageSize").asLong(-1));
    return new HeapReading(now, used, total, -1, -1, -1, -1, areas);
  }

  private static void beside(List<HeapReading.Area> areas, String name, long bytes) {
    if (bytes >= 0) {
      areas.add(new HeapReading.Area(name, bytes, bytes, -1, false));
    }
  }

  @Override
  public TypeCounts count(boolean collect) {
    return null;
  }

  @Override
  public long collectOnce() throws CaptureException {
    long start = System.nanoTime();
    capture.collect();
    return (System.nanoTime() - start) / 1_000_000;
  }

  @Override
  public boolean counts() {
    return false;
  }

  @Override
  public boolean tellsSurvivors() {
    return false;
  }

  @Override
  public LiveRuntime runtime() {
    return capture;
  }

  @Override
  public void close() {
    capture.close();
  }
}
