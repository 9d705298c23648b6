package lipsanon.question;

import java.io.IOException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import lipsanon.index.ObjectReader;
import lipsanon.index.Snapshot;

/**
 * A part of the heap as the runtime divides it, with what is in it.
 *
 * @param area its name
 * @param count objects in it
 * @param shallowBytes their sizes
 * @param arrayBytes of these, in arrays
 * @param usedBytes from its begin to its last object: what is more than the sizes lies free between
 * @param reservedBytes what is kept for it
 * @param freeBlocks gaps between its objects, or -1 where the snapshot does not tell
 * @param freeBytes of these
 * @param largestFreeBytes of the largest
 */
public record HeapArea(
    String area,
    long count,
    long shallowBytes,
    long arrayBytes,
    long usedBytes,
    long reservedBytes,
    long freeBlocks,
    long freeBytes,
    long largestFreeBytes) {

  /** All parts in the runtime's order; none where the snapshot does not tell. */
  static List<HeapArea> of(Snapshot snapshot) throws IOException {
    List<ObjectReader.Area> areas = snapshot.objects().areas();
    if (areas.isEmpty()) {
      return List.of();
    }
    Map<String, long[]> sums = new HashMap<>();
    for (int n = 0; n < snapshot.objectCount(); n++) {
      long[] sum = sums.computeIfAbsent(snapshot.objects().area(n), key -> new long[3]);
      long bytes = snapshot.shallowBytes(n);
      sum[0]++;
      sum[1] += bytes;
      sum[2] += snapshot.types().get(snapshot.type(n)).array() ? bytes : 0;
    }
    List<HeapArea> all = new ArrayList<>();
    for (ObjectReader.Area area : areas) {
      long[] sum = sums.getOrDefault(area.name(), new long[3]);
      if (sum[0] > 0 || area.usedBytes() > 0) {
        all.add(
            new HeapArea(
                area.name(),
                sum[0],
                sum[1],
                sum[2],
                area.usedBytes(),
                area.reservedBytes(),
                area.free().blocks(),
                area.free().bytes(),
                area.free().largestBytes()));
      }
    }
    return all;
  }
}
