package lipsanon.format.nettrace;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;

/** The places of static variables, which lie in arrays that the runtime keeps. */
final class StaticSlots {
  private final TreeMap<Long, Long> objects = new TreeMap<>();

  private long first = Long.MAX_VALUE;
  private long last = Long.MIN_VALUE;

  private StaticSlots() {}

  static StaticSlots of(List<HeapEvents.RawStatic> statics) {
    StaticSlots slots = new StaticSlots();
    for (HeapEvents.RawStatic one : statics) {
      slots.objects.put(one.slot(), one.object());
    }
    if (!slots.objects.isEmpty()) {
      slots.first = slots.objects.firstKey();
      slots.last = slots.objects.lastKey();
    }
    return slots;
  }

  /** Whether any lies in an object: for nearly none it does. */
  boolean anyWithin(long address, long size) {
    return address <= last && address + size > first;
  }

  /** What the variables refer to whose places lie in an object. */
  List<Long> within(long address, long size) {
    Map.Entry<Long, Long> first = objects.isEmpty() ? null : objects.ceilingEntry(address);
    if (first == null || first.getKey() >= address + size) {
      return List.of();
    }
    return new ArrayList<>(objects.subMap(address, address + size).values());
  }
}
