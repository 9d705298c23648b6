package lipsanon.format.nettrace;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.List;
import java.util.Random;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import lipsanon.graph.Strength;
import lipsanon.index.Snapshot;
import lipsanon.io.InputException;
import lipsanon.io.Progress;
import lipsanon.snapshot.Snapshots;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** Event streams that were made up, against the heaps that they were made of. */
class NettraceReaderTest {
  private static final int OBJECT = 11;
  private static final int CALL = 12;
  private static final int CALLS = 13;
  private static final int HANDLER = 14;

  @TempDir Path folder;

  /** A heap: objects by address with their references. */
  private static final class Heap {
    final TreeMap<Long, Long> sizes = new TreeMap<>();
    final TreeMap<Long, Integer> types = new TreeMap<>();
    final TreeMap<Long, List<Long>> edges = new TreeMap<>();
    final List<Long> handles = new ArrayList<>();
    final List<Long> finalizing = new ArrayList<>();
    final TreeMap<Long, String> statics = new TreeMap<>();
    final List<long[]> dependent = new ArrayList<>();

    /** By object: the place of a static variable that refers to it, in another object. */
    final TreeMap<Long, Long> slots = new TreeMap<>();

    long limit;

    /** A range that is told before the objects, or null. */
    NettraceBuilder.Bytes ranged;

    static Heap random(Random random, int count) {
      Heap heap = new Heap();
      List<Long> addresses = new ArrayList<>();
      long at = 0x7f0000000000L;
      for (int i = 0; i < count; i++) {
        long size = 22 + random.nextInt(100);
        heap.sizes.put(at, size);
        heap.types.put(at, OBJECT + random.nextInt(3));
        addresses.add(at);
        at += size + 7 & ~7L;
      }
      heap.limit = at;
      for (long address : addresses) {
        List<Long> targets = new ArrayList<>();
        for (int k = random.nextInt(4); k > 0; k--) {
          targets.add(addresses.get(random.nextInt(count)));
        }
        heap.edges.put(address, targets);
      }
      for (int i = 0; i < Math.max(1, count / 20); i++) {
        heap.handles.add(addresses.get(random.nextInt(count)));
        heap.statics.put(addresses.get(random.nextInt(count)), "field" + i);
        heap.finalizing.add(addresses.get(random.nextInt(count)));
        heap.dependent.add(
            new long[] {
              addresses.get(random.nextInt(count)), addresses.get(random.nextInt(count))
            });
      }
      return heap;
    }

    private static NettraceBuilder.Bytes bulk(int count) {
      return new NettraceBuilder.Bytes().u4(0).u4(count).u2(1);
    }

    byte[] stream() {
      return builder(0).end();
    }

    /** As a runtime tells it; after so many lost events at the end. */
    NettraceBuilder builder(int lost) {
      return tell(new NettraceBuilder(), lost);
    }

    /** Adds a collection to a stream. */
    NettraceBuilder tell(NettraceBuilder builder, int lost) {
      builder.event(
          NettraceFormat.GC_START, new NettraceBuilder.Bytes().u4(3).u4(2).u4(1).u4(0).u2(1).u8(0));
      if (ranged != null) {
        builder.event(NettraceFormat.GENERATION_RANGE, ranged);
      }
      NettraceBuilder.Bytes named = new NettraceBuilder.Bytes().u4(statics.size()).u8(1).u2(1);
      statics.forEach(
          (object, name) ->
              named.u8(slots.getOrDefault(object, 0x1000L)).u8(object).u8(OBJECT).u4(0).text(name));
      builder.event(NettraceFormat.BULK_STATIC, named);
      NettraceBuilder.Bytes types = new NettraceBuilder.Bytes().u4(4).u2(1);
      type(types, OBJECT, 0, "System.Object");
      type(types, CALL, 0, "PortMerrow.VesselCall`1[System.String]");
      type(types, CALLS, 8, "PortMerrow.VesselCall[]");
      type(types, HANDLER, 1, "PortMerrow.TideHandler");
      builder.event(NettraceFormat.BULK_TYPE, types);
      List<Long> all = new ArrayList<>(sizes.keySet());
      // events of any size, edges and nodes cut at other places
      for (int from = 0; from < all.size(); from += 37) {
        List<Long> some = all.subList(from, Math.min(all.size(), from + 37));
        NettraceBuilder.Bytes nodes = bulk(some.size());
        for (long address : some) {
          nodes
              .u8(address)
              .u8(sizes.get(address))
              .u8(types().get(address))
              .u8(edges.get(address).size());
        }
        builder.event(NettraceFormat.BULK_NODE, nodes);
      }
      List<Long> targets = new ArrayList<>();
      edges.values().forEach(targets::addAll);
      for (int from = 0; from < targets.size(); from += 53) {
        List<Long> some = targets.subList(from, Math.min(targets.size(), from + 53));
        NettraceBuilder.Bytes list = bulk(some.size());
        some.forEach(target -> list.u8(target).u4(0));
        builder.event(NettraceFormat.BULK_EDGE, list);
        builder.endBlock();
      }
      NettraceBuilder.Bytes roots = bulk(handles.size() + finalizing.size() + 2);
      handles.forEach(object -> roots.u8(object).u1(2).u4(0).u8(0x5000));
      finalizing.forEach(object -> roots.u8(object).u1(1).u4(0).u8(0));
      // a weak handle is no root, nor is one of nothing
      roots.u8(all.get(0)).u1(2).u4(2).u8(0x5008).u8(0).u1(2).u4(0).u8(0x5010);
      builder.event(NettraceFormat.BULK_ROOT, roots);
      NettraceBuilder.Bytes pairs = bulk(dependent.size());
      dependent.forEach(pair -> pairs.u8(pair[0]).u8(pair[1]).u8(0x6000));
      builder.event(NettraceFormat.BULK_WEAK_ELEMENT, pairs);
      builder.lose(lost);
      long start = sizes.firstKey();
      builder.event(
          NettraceFormat.GENERATION_RANGE,
          new NettraceBuilder.Bytes().u1(1).u8(start).u8(limit - start).u8(limit - start).u2(1));
      long bytes = sizes.values().stream().mapToLong(size -> size + 7 & ~7L).sum();
      NettraceBuilder.Bytes stats = new NettraceBuilder.Bytes().u8(0).u8(bytes);
      stats.u8(0).u8(0).u8(0).u8(0).u8(0).u8(0).u8(0).u8(0).u4(0).u4(0).u4(0).u2(1).u8(0).u8(0);
      builder.event(NettraceFormat.HEAP_STATS, stats);
      builder.event(NettraceFormat.GC_END, new NettraceBuilder.Bytes().u4(3).u4(2).u2(1));
      return builder;
    }

    private TreeMap<Long, Integer> types() {
      return types;
    }

    private static void type(NettraceBuilder.Bytes out, int id, int flags, String name) {
      out.u8(id).u8(0x77).u4(0x2000000 + id).u4(flags).u1(18).text(name).u4(0);
    }

    /** What is reached from some objects. */
    TreeSet<Long> reached(List<Long> from, TreeSet<Long> known) {
      TreeSet<Long> reached = new TreeSet<>(known);
      List<Long> pending = new ArrayList<>(from);
      while (!pending.isEmpty()) {
        long at = pending.remove(pending.size() - 1);
        if (reached.add(at)) {
          pending.addAll(edges.get(at));
          dependent.stream().filter(pair -> pair[0] == at).forEach(pair -> pending.add(pair[1]));
        }
      }
      return reached;
    }
  }

  private Snapshot open(Path file) throws Exception {
    return Snapshots.open(
        file, new Snapshots.Options(null, folder, false, 1L << 30), Progress.NONE);
  }

  @Test
  void randomHeapsAreReadAsTheyAre() throws Exception {
    for (int seed = 0; seed < 40; seed++) {
      Random random = new Random(seed);
      Heap heap = Heap.random(random, 1 + random.nextInt(400));
      Path file = Files.write(folder.resolve("heap" + seed + ".nettrace"), heap.stream());
      assertThat(Snapshots.missing(file)).as("seed " + seed).isEmpty();
      try (Snapshot snapshot = open(file)) {
        compare(heap, snapshot, "seed " + seed);
      }
    }
  }

  private static void compare(Heap heap, Snapshot snapshot, String seed) throws Exception {
    assertThat(snapshot.facts().partial()).as(seed).isFalse();
    assertThat(snapshot.facts().capturedAtMillis()).isEqualTo(1795774830400L);
    assertThat(snapshot.objectCount()).as(seed).isEqualTo(heap.sizes.size());
    List<Long> roots = new ArrayList<>(heap.handles);
    roots.addAll(heap.statics.keySet());
    TreeSet<Long> strong = heap.reached(roots, new TreeSet<>());
    TreeSet<Long> kept = heap.reached(heap.finalizing, strong);
    int node = 0;
    for (long address : heap.sizes.keySet()) {
      String at = seed + " " + Long.toHexString(address);
      assertThat(snapshot.nodeOf(address)).as(at).isEqualTo(node);
      assertThat(snapshot.shallowBytes(node)).as(at).isEqualTo(heap.sizes.get(address) + 7 & ~7L);
      Strength strength =
          strong.contains(address)
              ? Strength.STRONG
              : kept.contains(address) ? Strength.FINALIZER : Strength.UNRETAINED;
      assertThat(snapshot.strength(node)).as(at).isEqualTo(strength);
      List<Long> targets = new ArrayList<>();
      snapshot.objects().references(node, ref -> targets.add(snapshot.rawId(ref.target())));
      List<Long> expected = new ArrayList<>(heap.edges.get(address));
      heap.dependent.stream()
          .filter(pair -> pair[0] == address)
          .forEach(pair -> expected.add(pair[1]));
      targets.sort(Comparator.naturalOrder());
      expected.sort(Comparator.naturalOrder());
      assertThat(targets).as(at).isEqualTo(expected);
      for (long target : expected) {
        assertThat(snapshot.objects().viaTo(node, snapshot.nodeOf(target))).as(at).isNotNull();
      }
      node++;
    }
    assertThat(snapshot.types().stream().map(type -> type.name()))
        .contains("PortMerrow.VesselCall<System.String>", "PortMerrow.VesselCall[]");
    heap.statics.forEach(
        (object, name) ->
            assertThat(snapshot.rootsOf(snapshot.nodeOf(object)))
                .anyMatch(root -> root.detail().equals(name) && root.named()));
  }

  @Test
  void aVariableInAnArrayIsOneReference() throws Exception {
    Heap heap = new Heap();
    long array = 0x1000_0000L;
    long call = 0x1000_0080L;
    long other = 0x1000_00c0L;
    for (long address : new long[] {array, call, other}) {
      heap.sizes.put(address, 64L);
      heap.types.put(address, address == array ? CALLS : CALL);
      heap.edges.put(address, List.of());
    }
    heap.limit = other + 64;
    heap.edges.put(array, List.of(call, other));
    heap.handles.add(array);
    heap.statics.put(call, "latest");
    heap.slots.put(call, array + 24);
    Path file = Files.write(folder.resolve("static.nettrace"), heap.stream());
    try (Snapshot snapshot = open(file)) {
      int from = snapshot.nodeOf(array);
      int to = snapshot.nodeOf(call);
      assertThat(snapshot.dominator(to)).isEqualTo(-1);
      assertThat(snapshot.retainedBytes(from)).isEqualTo(128);
      assertThat(snapshot.objects().viaTo(from, to)).isNull();
      assertThat(snapshot.objects().viaTo(from, snapshot.nodeOf(other))).isNotNull();
      assertThat(snapshot.rootsOf(to)).allMatch(root -> root.detail().equals("latest"));
    }
  }

  private static NameBook names(Heap heap, int fill) {
    NameBook book = new NameBook();
    List<NameBook.Slot> slots = new ArrayList<>();
    slots.add(
        new NameBook.Slot("PortMerrow.Yard.VesselCall", "next", "PortMerrow.Yard.VesselCall"));
    slots.add(new NameBook.Slot("PortMerrow.Yard.Thing", "onTide", "System.Delegate"));
    for (int i = 0; i < fill; i++) {
      slots.add(new NameBook.Slot("PortMerrow.Yard.Thing", "crate" + i, "PortMerrow.Crate" + i));
    }
    book.types.put(
        (long) CALL,
        new NameBook.Type(
            "PortMerrow.Yard.VesselCall", true, true, slots, Set.of("PortMerrow.Yard.VesselCall")));
    book.types.put(
        (long) HANDLER,
        new NameBook.Type(
            "PortMerrow.TideHandler",
            false,
            false,
            List.of(),
            Set.of("PortMerrow.TideHandler", "System.Delegate", "System.Object")));
    book.generics.put((long) CALL, "PortMerrow.Shelf<System.String>.last");
    // of a type that is not there
    book.generics.put(99L, "PortMerrow.Shelf<PortMerrow.Crate>.last");
    heap.slots.values().forEach(slot -> book.statics.put(slot, "PortMerrow.Yard"));
    return book;
  }

  /** A stream with names at its end, as a capture adds them. */
  private static byte[] named(Heap heap, int fill) {
    byte[] plain = heap.stream();
    byte[] more = NameWriter.objects(names(heap, fill), plain.length - 1, 5);
    byte[] whole = Arrays.copyOf(plain, plain.length + more.length);
    System.arraycopy(more, 0, whole, plain.length - 1, more.length);
    whole[whole.length - 1] = 1;
    return whole;
  }

  @ParameterizedTest
  @ValueSource(ints = {0, 1, 5000})
  void namesThatWereAddedAreRead(int fill) throws Exception {
    Heap heap = Heap.random(new Random(9), 150);
    long slot = 0x2000;
    for (long object : heap.statics.keySet()) {
      heap.slots.put(object, slot += 8);
    }
    Path file = Files.write(folder.resolve("named.nettrace"), named(heap, fill));
    assertThat(Snapshots.missing(file)).isEmpty();
    Set<String> vias = new TreeSet<>();
    try (Snapshot snapshot = open(file)) {
      assertThat(snapshot.facts().partial()).isFalse();
      assertThat(snapshot.types().stream().map(type -> type.name()))
          .contains("PortMerrow.Yard.VesselCall<System.String>");
      for (int node = 0; node < snapshot.objectCount(); node++) {
        List<Long> targets = new ArrayList<>();
        boolean call = heap.types.get(snapshot.rawId(node)) == CALL;
        snapshot
            .objects()
            .references(
                node,
                ref -> {
                  targets.add(snapshot.rawId(ref.target()));
                  int to = heap.types.get(snapshot.rawId(ref.target()));
                  if (call && to == CALL) {
                    vias.add(ref.via().text());
                  }
                });
        List<Long> expected = new ArrayList<>(heap.edges.get(snapshot.rawId(node)));
        long address = snapshot.rawId(node);
        heap.dependent.stream()
            .filter(pair -> pair[0] == address)
            .forEach(pair -> expected.add(pair[1]));
        assertThat(targets).containsExactlyInAnyOrderElementsOf(expected);
      }
      heap.statics.forEach(
          (object, name) ->
              assertThat(snapshot.rootsOf(snapshot.nodeOf(object)))
                  .anyMatch(root -> root.detail().equals("PortMerrow.Yard." + name)));
    }
    assertThat(vias).contains("PortMerrow.Yard.VesselCall<System.String>.next");
  }

  @Test
  void namesWithDamageGiveOneKindOfError() throws Exception {
    byte[] plain = Heap.random(new Random(3), 20).stream();
    byte[] whole = named(Heap.random(new Random(3), 20), 3);
    Random random = new Random(4);
    Path file = folder.resolve("flipped.nettrace");
    for (int i = 0; i < 3000; i++) {
      byte[] changed = whole.clone();
      for (int k = random.nextInt(3); k >= 0; k--) {
        int at = plain.length - 1 + random.nextInt(changed.length - plain.length);
        changed[at] ^= (byte) (1 << random.nextInt(8));
      }
      Files.write(file, changed);
      try {
        Snapshots.missing(file);
      } catch (InputException e) {
        assertThat(e).hasMessageContaining("flipped.nettrace");
      }
    }
  }

  @Test
  void ofSeveralCollectionsTheLastCounts() throws Exception {
    Heap earlier = Heap.random(new Random(5), 120);
    Heap heap = Heap.random(new Random(6), 90);
    NettraceBuilder builder = earlier.builder(0);
    long start = heap.sizes.firstKey() - 64;
    NettraceBuilder.Bytes before = new NettraceBuilder.Bytes().u1(2).u8(start);
    before.u8(heap.limit - start).u8(heap.limit - start).u2(1);
    // where the heap was before the later collection is told after it began
    heap.ranged = before;
    Path file = Files.write(folder.resolve("twice.nettrace"), heap.tell(builder, 0).end());
    assertThat(Snapshots.missing(file)).isEmpty();
    try (Snapshot snapshot = open(file)) {
      compare(heap, snapshot, "twice");
      for (int node = 0; node < snapshot.objectCount(); node++) {
        assertThat(snapshot.objects().area(node)).isEqualTo("generation 1");
      }
    }
  }

  @Test
  void lostEventsAreTold() throws Exception {
    Heap heap = Heap.random(new Random(1), 100);
    Path file = Files.write(folder.resolve("lost.nettrace"), heap.builder(45).end());
    assertThat(Snapshots.missing(file)).contains("45 events were lost");
    try (Snapshot snapshot = open(file)) {
      assertThat(snapshot.facts().partial()).isTrue();
    }
  }

  @Test
  void cutAnywhereItIsPartialOrRefused() throws Exception {
    byte[] whole = Heap.random(new Random(2), 18).stream();
    Path file = folder.resolve("cut.nettrace");
    int partial = 0;
    for (int length = 8; length < whole.length; length++) {
      Files.write(file, Arrays.copyOf(whole, length));
      try {
        assertThat(Snapshots.missing(file)).as(length + " bytes").isNotEmpty();
      } catch (InputException e) {
        assertThat(e).hasMessageContaining("cut.nettrace");
      }
      if (length % 11 != 0) {
        continue;
      }
      try (Snapshot snapshot = open(file)) {
        assertThat(snapshot.facts().partial()).as(length + " bytes").isTrue();
        partial++;
      } catch (InputException e) {
        assertThat(e).hasMessageContaining("cut.nettrace");
      }
    }
    assertThat(partial).isPositive();
  }

  @Test
  @Timeout(300)
  void flippedAnywhereItGivesOneKindOfError() throws Exception {
    byte[] whole = Heap.random(new Random(3), 80).stream();
    Random random = new Random(4);
    Path file = folder.resolve("flipped.nettrace");
    for (int i = 0; i < 3_000; i++) {
      byte[] changed = whole.clone();
      for (int k = 0; k <= i % 3; k++) {
        changed[random.nextInt(changed.length)] = (byte) random.nextInt();
      }
      Files.write(file, changed);
      if (i % 25 == 0) {
        try (Snapshot snapshot = open(file)) {
          for (int n = 0; n < snapshot.objectCount(); n += 7) {
            snapshot.objects().references(n, ref -> {});
          }
        } catch (InputException e) {
          assertThat(e).hasMessageContaining("flipped.nettrace");
        }
      } else {
        try {
          Snapshots.missing(file);
        } catch (InputException e) {
          assertThat(e).hasMessageContaining("flipped.nettrace");
        }
      }
    }
  }

  @Test
  void typesOfTwoCopiesOfAnAssemblyAreTold() {
    TreeMap<Long, HeapEvents.RawType> raw = new TreeMap<>();
    raw.put(1L, new HeapEvents.RawType(1, 10, 0x2000003, 0, "PortMerrow.VesselCall", new long[0]));
    raw.put(2L, new HeapEvents.RawType(2, 11, 0x2000004, 0, "PortMerrow.TideBoard", new long[0]));
    assertThat(NettraceTypes.loadedTwice(raw)).isEmpty();
    raw.put(3L, new HeapEvents.RawType(3, 11, 0x2000003, 0, "PortMerrow.VesselCall", new long[0]));
    assertThat(NettraceTypes.loadedTwice(raw))
        .isEqualTo("Loaded twice, from two copies of an assembly: PortMerrow.VesselCall.");
    assertThat(NettraceTypes.of(raw, new NameBook()).infos())
        .filteredOn(type -> type.name().equals("PortMerrow.VesselCall"))
        .extracting(type -> type.loader())
        .containsExactlyInAnyOrder("module 0xa, token 0x2000003", "module 0xb, token 0x2000003");
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "Lighthouse.Crate`1[System.String] | 0 | Lighthouse.Crate<System.String>",
        "Lighthouse.Crate`2[System.String,A+B] | 0 | Lighthouse.Crate<System.String, A.B>",
        "Lighthouse.Lamp | 8 | Lighthouse.Lamp[]",
        "Lighthouse.Lamp[] | 8 | Lighthouse.Lamp[]",
        "Lighthouse.Lamp | 520 | Lighthouse.Lamp[,]",
        "Crate`1[System.String[]] | 8 | Crate<System.String[]>[]",
        "Entry[System.String,Lighthouse.Lamp] | 0 | Entry<System.String, Lighthouse.Lamp>"
      })
  void typesAreCalledAsInSource(String raw, int flags, String name) {
    assertThat(NettraceTypes.name(new HeapEvents.RawType(1, 2, 3, flags, raw, new long[0])))
        .isEqualTo(name);
  }
}
