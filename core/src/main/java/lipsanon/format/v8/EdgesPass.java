package lipsanon.format.v8;

import java.io.IOException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import lipsanon.array.IntArray;
import lipsanon.array.LongArray;
import lipsanon.graph.EdgeAppender;
import lipsanon.graph.SpecialEdges;
import lipsanon.index.RootInfo;
import lipsanon.io.CorruptInputException;
import lipsanon.io.Progress;

/** Reads the edges of a run of nodes; several passes can work side by side. */
final class EdgesPass {
  private static final int OFTEN = 1 << 12;

  /** Of products with a reciprocal: right for all multiples below 2^31, and no overflow. */
  private static final int SHIFT = 33;

  private final Shared shared;
  private final EdgeAppender appender;
  private final Progress progress;

  /** Weak edges found. */
  final SpecialEdges special = new SpecialEdges();

  /** Roots found, in the order of the file. */
  final List<RootInfo> roots = new ArrayList<>();

  /**
   * What all passes read, or write at places of their own.
   *
   * @param file the snapshot's file
   * @param source its name, for errors
   * @param nodeCount number of nodes
   * @param objectOf by node: its object, or ~(place among the synthetic nodes)
   * @param edgeCounts by node: how many edges it has
   * @param rootKinds by place among the synthetic nodes: what it is called
   * @param type by object: its type
   * @param noting by type: whether its objects note others and keep none of them
   * @param ids by object: its identifier
   * @param firstEdge by object: where its list begins
   * @param positions by object: where its edges stand in the file
   */
  record Shared(
      V8File file,
      String source,
      int nodeCount,
      IntArray objectOf,
      IntArray edgeCounts,
      List<String> rootKinds,
      IntArray type,
      boolean[] noting,
      LongArray ids,
      IntArray firstEdge,
      LongArray positions) {}

  /** Where the first number stands, and what follows the last one. */
  long beginning;

  long ending;

  EdgesPass(Shared shared, EdgeAppender appender, Progress progress) {
    this.shared = shared;
    this.appender = appender;
    this.progress = progress;
  }

  /** Reads from where the scanner stands, the first edge of node {@code from}. */
  void read(NumberScanner in, int from, int to) throws IOException {
    V8Meta meta = shared.file.meta;
    final int typeAt = meta.column("edge_fields", "type");
    final int nameAt = meta.column("edge_fields", "name_or_index");
    final int targetAt = meta.column("edge_fields", "to_node");
    final int weak = meta.edgeTypes().indexOf(V8Format.EDGE_WEAK);
    final int shortcut = meta.edgeTypes().indexOf(V8Format.EDGE_SHORTCUT);
    final int internal = meta.edgeTypes().indexOf(V8Format.EDGE_INTERNAL);
    final int nodeWidth = meta.width("node_fields");
    final long reciprocal = ((1L << SHIFT) + nodeWidth - 1) / nodeWidth;
    final boolean[] named = named(meta);
    final long[] row = new long[meta.width("edge_fields")];
    final StringTable strings = shared.file.strings;
    final int names = strings.count();
    final IntArray objectOf = shared.objectOf;
    final int nodeCount = shared.nodeCount;
    in.toNumber();
    beginning = in.position();
    for (int node = from; node < to; node++) {
      if ((node & OFTEN - 1) == 0) {
        progress.at(node);
      }
      int object = objectOf.get(node);
      int count = shared.edgeCounts.get(node);
      boolean notes = object >= 0 && shared.noting[shared.type.get(object)];
      if (object >= 0) {
        appender.begin(count);
        shared.positions.set(object, in.position());
      }
      for (int e = 0; e < count; e++) {
        in.row(row);
        long kind = row[typeAt];
        long name = row[nameAt];
        long to0 = row[targetAt];
        // a multiplication is much quicker; whether the number is a multiple is looked at anyway
        long targetNode = to0 <= Integer.MAX_VALUE ? to0 * reciprocal >>> SHIFT : to0 / nodeWidth;
        if (kind < 0
            || kind >= named.length
            || named[(int) kind] && (name < 0 || name >= names)
            || to0 < 0
            || targetNode * nodeWidth != to0
            || targetNode >= nodeCount) {
          throw bad(in, row);
        }
        int target = objectOf.get((int) targetNode);
        if (target < 0) {
          continue;
        }
        if (object < 0) {
          String rootKind = shared.rootKinds.get(~object);
          // a string that only its table knows goes with the next collection
          if (kind != weak && !V8Format.WEAK_TABLES.contains(rootKind)) {
            String above = kind == shortcut ? "global object" : "root";
            roots.add(new RootInfo(target, rootKind.isEmpty() ? above : rootKind, "", -1));
          }
        } else if (kind == weak
            || notes
            || kind == internal && strings.weakMapTable((int) name) == shared.ids.get(object)) {
          special.weak.add(object, target);
        } else {
          appender.add(target);
        }
      }
      if (object >= 0) {
        shared.firstEdge.set(object, appender.end());
      }
    }
    in.toNumber();
    ending = in.position();
  }

  private CorruptInputException bad(NumberScanner in, long[] row) {
    return new CorruptInputException(
        shared.source, in.position(), "edge " + Arrays.toString(row), "values within their bounds");
  }

  /** By type of edge: whether it has a name; others have a number. */
  private static boolean[] named(V8Meta meta) {
    boolean[] named = new boolean[meta.edgeTypes().size()];
    for (int i = 0; i < named.length; i++) {
      String name = meta.edgeTypes().get(i);
      named[i] = !name.equals(V8Format.EDGE_ELEMENT) && !name.equals(V8Format.EDGE_HIDDEN);
    }
    return named;
  }
}
