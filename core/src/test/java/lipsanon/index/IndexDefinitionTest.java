package lipsanon.index;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashSet;
import java.util.List;
import java.util.Random;
import java.util.Set;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import lipsanon.array.LongArray;
import lipsanon.array.Space;
import lipsanon.graph.BruteForce;
import lipsanon.graph.GraphFixture;
import lipsanon.graph.ObjectGraph;
import lipsanon.io.Progress;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * Every column of the indexes of random graphs against its definition: what is written is read back
 * from the files.
 */
class IndexDefinitionTest {
  private static final int GRAPHS = 150;

  /** Some are so large that columns have several blocks. */
  private static final int LARGE_GRAPHS = 4;

  private static final SnapshotFacts FACTS =
      new SnapshotFacts(
          "a yard",
          "1",
          0,
          new SnapshotFacts.Layout(8, 8, 4, 8),
          List.of(),
          List.of(),
          false,
          0,
          0,
          0);

  @TempDir Path folder;

  /** What is made up besides the graph. */
  private record Case(GraphFixture graph, IdStyle style, long[] ids, long[] positions, int unit) {}

  @Test
  void columnsEqualTheirDefinitions() throws Exception {
    long base = Long.getLong("lipsanon.seed", 20_261_128L);
    for (int i = 0; i < GRAPHS + LARGE_GRAPHS; i++) {
      long seed = base + i;
      Random random = new Random(seed);
      GraphFixture graph = GraphFixture.random(random, i < GRAPHS ? 28 : 160);
      try {
        check(made(graph, random), Space.heap(), Files.createDirectory(folder.resolve("i" + i)));
      } catch (Throwable e) {
        throw new AssertionError("rerun with -Dlipsanon.seed=" + seed, e);
      }
    }
  }

  @Test
  void columnsMadeInScratchFilesAreTheSame() throws Exception {
    for (int i = 0; i < 6; i++) {
      Random random = new Random(i);
      GraphFixture graph = GraphFixture.random(random, 90);
      Path scratch = Files.createDirectory(folder.resolve("scratch" + i));
      try (Space space = Space.mapped(scratch, new Space.Spare(1 + random.nextInt(40), 500))) {
        check(made(graph, random), space, Files.createDirectory(folder.resolve("m" + i)));
      }
    }
  }

  private static Case made(GraphFixture graph, Random random) {
    IdStyle style = random.nextBoolean() ? IdStyle.ADDRESS : IdStyle.SERIAL;
    Set<Long> used = new HashSet<>();
    while (used.size() < graph.count) {
      used.add(style == IdStyle.SERIAL ? random.nextInt() >>> 1 : random.nextLong() >>> 3 << 3);
    }
    List<Long> ids = new ArrayList<>(used);
    if (style == IdStyle.ADDRESS) {
      ids.sort(Long::compareUnsigned);
    }
    return new Case(
        graph,
        style,
        ids.stream().mapToLong(Long::longValue).toArray(),
        random.longs(graph.count, 0, 1L << random.nextInt(1, 40)).toArray(),
        1 << random.nextInt(4));
  }

  private static SnapshotContent content(Case made, Space space) {
    GraphFixture g = made.graph;
    ObjectGraph graph = g.build(space);
    LongArray positions = space.longs(g.count);
    for (int n = 0; n < g.count; n++) {
      positions.set(n, made.positions[n] + 1);
    }
    List<TypeInfo> types =
        IntStream.range(0, g.classNode.length)
            .mapToObj(t -> new TypeInfo("harbour.T" + t, "", g.classNode[t], Set.of()))
            .toList();
    return new SnapshotContent(
        "made up",
        graph,
        g.sizes(space),
        made.unit,
        made.style,
        sink -> feed(made.ids, sink),
        positions,
        types,
        g.roots.stream().map(root -> new RootInfo(root, "root", "", -1)).toList(),
        FACTS,
        new byte[] {1, 2},
        List.of(new SnapshotContent.Extra("tide", g.count, sink -> feed(made.positions, sink))));
  }

  /** Some one by one, the rest together. */
  private static void feed(long[] values, SnapshotContent.Sink sink) throws IOException {
    int alone = values.length / 3;
    for (int i = 0; i < alone; i++) {
      sink.value(values[i]);
    }
    long[] rest = Arrays.copyOfRange(values, alone, values.length);
    sink.values(rest, rest.length);
  }

  private static void check(Case made, Space space, Path folder) throws Exception {
    IndexBuilder.build(
        content(made, space), new Identity(1, 2, new byte[32]), space, folder, Progress.NONE);
    Meta meta = Meta.read(folder);
    GraphFixture g = made.graph;
    BruteForce expected = new BruteForce(g);
    int[] depths = expected.depths();
    long[] dominators = new long[g.count];
    long[] retained = new long[g.count];
    List<Long> top = new ArrayList<>();
    for (int n = 0; n < g.count; n++) {
      retained[n] = expected.dominated(n).stream().mapToLong(d -> g.size[d]).sum();
      int above = depths[n] > 0 ? expected.immediateDominator(n) : -1;
      dominators[n] = above < 0 ? 0 : n - above;
      if (depths[n] > 0 && above < 0) {
        top.add((long) n);
      }
    }
    Columns columns = new Columns(folder, meta.build());
    assertThat(columns.of(IndexFiles.DOMINATOR)).isEqualTo(dominators);
    assertThat(columns.of(IndexFiles.RETAINED)).isEqualTo(retained);
    assertThat(columns.of(IndexFiles.TOP)).isEqualTo(longs(top));
    assertThat(columns.of(IndexFiles.DEPTH)).isEqualTo(longs(depths));
    assertThat(columns.of(IndexFiles.SHALLOW)).isEqualTo(longs(g.size));
    assertThat(columns.of(IndexFiles.TYPE)).isEqualTo(longs(g.type));
    assertThat(columns.of(IndexFiles.STRENGTH))
        .isEqualTo(Stream.of(expected.strength).mapToLong(Enum::ordinal).toArray());
    assertThat(columns.of(IndexFiles.ID)).isEqualTo(made.ids);
    assertThat(columns.of(IndexFiles.POSITION)).isEqualTo(made.positions);
    assertThat(columns.read(IndexFiles.extra("tide", meta.build()))).isEqualTo(made.positions);
    checkIdOrder(made, columns, folder, meta);
    checkLists(expected, columns, retained);
    checkSums(made, expected, meta, retained, depths);
    for (Path file : columns.all()) {
      assertThat(file.getFileName().toString()).matches("meta|.*\\.col");
    }
  }

  private static void checkIdOrder(Case made, Columns columns, Path folder, Meta meta)
      throws Exception {
    Path file = folder.resolve(IndexFiles.ID_ORDER.file(meta.build()));
    if (made.style == IdStyle.ADDRESS) {
      assertThat(file).doesNotExist();
      return;
    }
    long[] order =
        IntStream.range(0, made.ids.length)
            .boxed()
            .sorted((a, b) -> Long.compare(made.ids[a], made.ids[b]))
            .mapToLong(Integer::longValue)
            .toArray();
    assertThat(columns.of(IndexFiles.ID_ORDER)).isEqualTo(order);
  }

  private static void checkLists(BruteForce expected, Columns columns, long[] retained)
      throws Exception {
    ListColumn inbound = columns.lists(IndexFiles.INBOUND_END, IndexFiles.INBOUND);
    List<Long> joins = new ArrayList<>();
    ListColumn keepers = columns.lists(IndexFiles.JOIN_END, IndexFiles.JOIN_FROM);
    for (int n = 0; n < retained.length; n++) {
      assertThat(inbound.get(n).toArray())
          .isEqualTo(expected.inbound(n).stream().mapToInt(Integer::intValue).toArray());
      int[] keeps = expected.joinKeepers(n);
      if (keeps != null) {
        assertThat(keepers.get(joins.size()).toArray()).as("what keeps %d", n).isEqualTo(keeps);
        joins.add((long) n);
      }
    }
    assertThat(columns.of(IndexFiles.JOIN)).isEqualTo(longs(joins));
  }

  private static void checkSums(
      Case made, BruteForce expected, Meta meta, long[] retained, int[] depths) {
    GraphFixture g = made.graph;
    long kept = 0;
    long shallow = 0;
    int deepest = -1;
    long references = 0;
    for (int n = 0; n < g.count; n++) {
      shallow += g.size[n];
      kept += depths[n] > 0 ? g.size[n] : 0;
      deepest = depths[n] > (deepest < 0 ? 0 : depths[deepest]) ? n : deepest;
      references += g.strong.get(n).size();
    }
    references += g.soft.size() + g.weak.size() + g.finalizer.size();
    assertThat(meta.totals().objects()).isEqualTo(g.count);
    assertThat(meta.totals().references()).isEqualTo(references);
    assertThat(meta.totals().shallowBytes()).isEqualTo(shallow * made.unit);
    assertThat(meta.totals().retainedBytes()).isEqualTo(kept * made.unit);
    assertThat(meta.totals().retainedObjects())
        .isEqualTo(Arrays.stream(depths).filter(depth -> depth > 0).count());
    assertThat(meta.deepest()).isEqualTo(deepest);
    for (int t = 0; t < g.classNode.length; t++) {
      int type = t;
      assertThat(meta.counts().get(t).count())
          .isEqualTo(Arrays.stream(g.type).filter(other -> other == type).count());
    }
    assertThat(meta.idStyle()).isEqualTo(made.style);
    assertThat(meta.extras()).containsExactly(new Meta.Extra("tide", g.count));
  }

  private static long[] longs(int[] values) {
    return Arrays.stream(values).asLongStream().toArray();
  }

  private static long[] longs(List<Long> values) {
    return values.stream().mapToLong(Long::longValue).toArray();
  }

  /** The files of an index, read one by one. */
  private record Columns(Path folder, long build) {
    long[] of(IndexFiles file) throws IOException {
      return read(file.file(build));
    }

    long[] read(String name) throws IOException {
      PackedColumn column = PackedColumn.open(folder.resolve(name), build);
      column.check();
      long[] values = new long[(int) column.count()];
      Arrays.setAll(values, i -> column.get(i));
      return values;
    }

    ListColumn lists(IndexFiles ends, IndexFiles bytes) throws IOException {
      ListColumn lists =
          ListColumn.open(
              folder.resolve(ends.file(build)), folder.resolve(bytes.file(build)), build);
      lists.check();
      return lists;
    }

    List<Path> all() throws IOException {
      try (Stream<Path> files = Files.list(folder)) {
        return files.toList();
      }
    }
  }
}
