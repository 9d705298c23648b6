package lipsanon.index;

import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.SplittableRandom;
import java.util.concurrent.Callable;
import lipsanon.array.IntArray;
import lipsanon.array.LongArray;
import lipsanon.array.Space;
import lipsanon.graph.DepthFirst;
import lipsanon.graph.Dominators;
import lipsanon.graph.HoldingTypes;
import lipsanon.graph.Inbound;
import lipsanon.graph.ObjectGraph;
import lipsanon.graph.Reachability;
import lipsanon.graph.ReverseOrder;
import lipsanon.graph.TypeTotals;
import lipsanon.graph.Workers;
import lipsanon.io.Progress;

/**
 * Computes everything that an index holds and writes it. While one thread numbers and computes
 * dominators, the other turns references round, and writes them and what else is known already.
 */
final class IndexBuilder {
  private final SnapshotContent content;
  private final ObjectGraph original;
  private final Space space;
  private final Path folder;
  private final Progress progress;
  private final long build = new SplittableRandom().nextLong() >>> 1;
  private final KnownColumns columns;
  private long references;

  private IndexBuilder(SnapshotContent content, Space space, Path folder, Progress progress) {
    this.content = content;
    this.original = content.graph();
    this.space = space;
    this.folder = folder;
    this.progress = progress;
    this.columns = new KnownColumns(content, space, folder, build);
  }

  /** Writes a whole index into a folder; on failure the folder holds no {@code meta}. */
  static void build(
      SnapshotContent content, Identity identity, Space space, Path folder, Progress progress)
      throws Exception {
    new IndexBuilder(content, space, folder, progress).run(identity);
  }

  private void run(Identity identity) throws Exception {
    // first, so that the memory of the places serves the numbering
    Workers.Task<Void> places = Workers.start("lipsanon-places", columns::writePositions);
    Reachability.Result reached;
    try {
      reached = Reachability.compute(original, space, progress);
    } finally {
      places.join();
    }
    space.release(content.positions());
    ObjectGraph graph = reached.graph();
    Workers.Task<Void> known =
        Workers.start(
            "lipsanon-inbound",
            () -> {
              writeInbound(graph);
              columns.write(reached);
              return null;
            });
    Workers.Task<Void> preparing = known;
    Meta meta;
    try {
      DepthFirst numbering = DepthFirst.compute(graph, space, progress);
      Prepared prepared =
          new Prepared(
              Workers.later(() -> ReverseOrder.of(numbering, space)),
              Workers.later(() -> TypeTotals.of(graph, numbering.unretained(), content.shallow())));
      preparing =
          Workers.start(
              "lipsanon-prepare",
              () -> {
                known.join();
                prepared.totals().join();
                // where memory is short the dominators have it first
                if (!space.isMapped()) {
                  prepared.order().join();
                }
                return null;
              });
      meta = computed(graph, reached, known, numbering, prepared, identity);
    } finally {
      preparing.join();
    }
    meta.write(folder);
  }

  /** What the figures by type need besides dominators. */
  private record Prepared(Workers.Task<ReverseOrder> order, Workers.Task<TypeTotals> totals) {}

  /** Computes what needs dominators, and writes it once the references are turned round. */
  private Meta computed(
      ObjectGraph graph,
      Reachability.Result reached,
      Workers.Task<Void> known,
      DepthFirst numbering,
      Prepared prepared,
      Identity identity)
      throws Exception {
    Dominators dominators = Dominators.compute(numbering, space, progress);
    IntArray shallow = content.shallow();
    Workers.Task<LongArray> retained =
        Workers.start("lipsanon-retained", () -> dominators.innerRetained(shallow));
    known.join();
    progress.phase("writing the index", 0);
    DominatorColumns.Large[] large = new DominatorColumns.Large[1];
    List<Callable<Void>> works = new ArrayList<>();
    works.add(
        () -> {
          ReverseOrder order = prepared.order().join();
          TypeTotals totals = prepared.totals().join();
          HoldingTypes types = new HoldingTypes(graph, dominators, order, totals, shallow, space);
          Joins.write(graph, dominators, types, folder, build);
          types.finish(retained.join());
          totals.resolve(types.unresolved(), graph, reached.depth(), shallow);
          return null;
        });
    works.add(
        () -> {
          Path top = folder.resolve(IndexFiles.TOP.file(build));
          LongArray inner = retained.join();
          large[0] = DominatorColumns.write(content, dominators, inner, columns, top, build);
          return null;
        });
    Workers.all(works);
    long kept = graph.count - dominators.unretained().cardinality();
    return meta(
        identity, reached, kept, retained.join().get(0), prepared.totals().join(), large[0]);
  }

  private void writeInbound(ObjectGraph graph) throws IOException {
    try (ListColumn.Writer out =
        new ListColumn.Writer(
            folder.resolve(IndexFiles.INBOUND_END.file(build)),
            folder.resolve(IndexFiles.INBOUND.file(build)),
            build,
            graph.count)) {
      references = Inbound.feed(graph, space, out::addLists);
      out.finish();
    }
  }

  private Meta meta(
      Identity identity,
      Reachability.Result reached,
      long kept,
      long retainedUnits,
      TypeTotals byType,
      DominatorColumns.Large large) {
    long unit = content.unitBytes();
    long shallow = 0;
    List<TypeCounts> counts = new ArrayList<>();
    for (int t = 0; t < content.types().size(); t++) {
      shallow += byType.shallow(t) * unit;
      counts.add(
          new TypeCounts(
              byType.count(t),
              byType.unretained(t),
              byType.shallow(t) * unit,
              byType.retained(t) * unit));
    }
    Totals totals =
        new Totals(
            original.count,
            references - reached.addedEdges(),
            shallow,
            kept,
            retainedUnits * unit,
            reached.soft().cardinality(),
            bytes(reached.soft()) * unit,
            reached.finalizer().cardinality(),
            bytes(reached.finalizer()) * unit);
    List<RootInfo> roots = new ArrayList<>(content.roots());
    for (int node : reached.finalizerRoots()) {
      roots.add(new RootInfo(node, RootInfo.WAITING, "", -1));
    }
    return new Meta(
        build,
        identity,
        content.format(),
        totals,
        content.unitBytes(),
        content.facts(),
        content.types(),
        counts,
        roots,
        large.piles(),
        large.broods(),
        deepest(reached),
        content.detail(),
        content.idStyle(),
        content.extras().stream()
            .map(extra -> new Meta.Extra(extra.name(), extra.count()))
            .toList());
  }

  private static int deepest(Reachability.Result reached) {
    int deepest = -1;
    int depth = 0;
    for (int n = 0; n < reached.depth().length(); n++) {
      if (reached.depth().get(n) > depth) {
        depth = reached.depth().get(n);
        deepest = n;
      }
    }
    return deepest;
  }

  private long bytes(BitSet nodes) {
    long sum = 0;
    for (int n = nodes.nextSetBit(0); n >= 0; n = nodes.nextSetBit(n + 1)) {
      sum += Integer.toUnsignedLong(content.shallow().get(n));
    }
    return sum;
  }
}
