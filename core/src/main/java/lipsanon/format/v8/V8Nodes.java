package lipsanon.format.v8;

import java.io.IOException;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import lipsanon.array.IntArray;
import lipsanon.array.IntList;
import lipsanon.array.LongArray;
import lipsanon.array.Space;
import lipsanon.index.TypeInfo;
import lipsanon.io.ByteSource;
import lipsanon.io.CorruptInputException;

/**
 * The nodes of a snapshot. Nodes of type {@code synthetic} are no objects; all others are, numbered
 * in the order of the file.
 */
final class V8Nodes {
  /** The largest identifier, and the largest size that is kept. */
  static final long LARGEST = 0xffff_ffffL;

  final V8Meta meta;
  final ByteSource source;
  private final long begin;

  /** Number of nodes. */
  final int count;

  /** By node: its object, or ~(its place among the synthetic ones). */
  final IntArray objectOf;

  /** By node: how many edges it has. */
  final IntArray edgeCounts;

  /** By object: its type, as a place among the raw ones of its pass until {@link #nameTypes}. */
  final IntArray type;

  final IntArray shallow;

  /** By object: the stack that allocated it; null where the file has none. */
  final IntArray trace;

  final LongArray ids;

  /** By object: one more than where it stands in the file. */
  final LongArray positions;

  /** How many synthetic nodes the list begins with: in most files all there are. */
  private final int leading;

  private final IntList synthetic = new IntList();
  private final IntList syntheticNames = new IntList();
  private final List<NodesPass> passes = new ArrayList<>();
  private int objects;
  private long clamped;
  private long repeatedIds;
  private int closureType = -1;

  /** With room for all of them; {@code begin} is where the list's first number may stand. */
  V8Nodes(V8Meta meta, int count, ByteSource source, long begin, Space space) throws IOException {
    this.meta = meta;
    this.source = source;
    this.begin = begin;
    this.count = count;
    int room = Math.max(1, count);
    boolean tracked =
        meta.traceFunctionCount() > 0 && meta.column("node_fields", "trace_node_id") >= 0;
    objectOf = space.ints(room);
    edgeCounts = space.ints(room);
    type = space.ints(room);
    shallow = space.ints(room);
    trace = tracked ? space.ints(room) : null;
    ids = space.longs(room, LARGEST);
    positions = space.longs(room, source.size() + 1);
    leading = countLeading();
  }

  private int countLeading() throws IOException {
    NumberScanner in = new NumberScanner(source, begin);
    long[] row = new long[meta.width("node_fields")];
    int synthetics = 0;
    for (int node = 0; node < count; node++) {
      in.row(row);
      if (row[meta.column("node_fields", "type")] != meta.nodeTypes().indexOf(V8Format.SYNTHETIC)) {
        break;
      }
      synthetics++;
    }
    return synthetics;
  }

  /** A pass over a run of rows, the first of which stands at a place of the list. */
  NodesPass pass(int from, int to, NumberList.Place place) {
    return new NodesPass(this, from, to, place);
  }

  /** The place of the first row. */
  NumberList.Place beginning() {
    return new NumberList.Place(begin, 0);
  }

  /** The object that a node is presumed to be, if only the first ones of the list are none. */
  int presumed(int node) {
    return Math.max(0, node - leading);
  }

  /**
   * Puts together what passes over all rows, in the order of the file, have read.
   *
   * @throws CorruptInputException if they do not fit together
   */
  void join(List<NodesPass> all) throws CorruptInputException {
    long edges = 0;
    for (NodesPass pass : all) {
      if (!passes.isEmpty()) {
        NumberList.checkJoint(source, passes.get(passes.size() - 1).ending(), pass.beginning());
      }
      for (int i = 0; i < pass.synthetic.size(); i++) {
        objectOf.set(pass.synthetic.get(i), ~synthetic.size());
        synthetic.add(pass.synthetic.get(i));
        syntheticNames.add(pass.syntheticNames.get(i));
      }
      pass.moveTo(objects);
      objects += pass.objects();
      clamped += pass.clamped();
      edges += pass.edges();
      passes.add(pass);
    }
    if (edges != meta.edgeCount()) {
      throw new CorruptInputException(
          source.name(), 0, "edge_count " + meta.edgeCount(), edges + ", as its nodes have");
    }
    SeenIds seen = new SeenIds();
    for (int n = 0; n < objects; n++) {
      repeatedIds += seen.add(ids.get(n)) ? 0 : 1;
    }
  }

  /** How many objects there are. */
  int objects() {
    return objects;
  }

  /** The synthetic nodes, ascending. */
  int[] synthetic() {
    return synthetic.toArray();
  }

  /** By place among the synthetic nodes: the index of its name. */
  int[] syntheticNames() {
    return syntheticNames.toArray();
  }

  /** The type of functions, or -1; after {@link #nameTypes}. */
  int closureType() {
    return closureType;
  }

  long clamped() {
    return clamped;
  }

  /** How many objects have an identifier that one before has. */
  long repeatedIds() {
    return repeatedIds;
  }

  /** Gives types their names; those that then turn out to be the same become one. */
  List<TypeInfo> nameTypes(StringTable strings) throws IOException {
    List<TypeInfo> types = new ArrayList<>();
    Map<String, Integer> numbers = new HashMap<>();
    int first = 0;
    for (NodesPass pass : passes) {
      if (pass.greatestName() >= strings.count()) {
        throw new CorruptInputException(
            source.name(), 0, "a node with name " + pass.greatestName(), "fewer than the strings");
      }
      int[] number = new int[pass.rawKeys.size()];
      for (int raw = 0; raw < number.length; raw++) {
        int v8Type = (int) (pass.rawKeys.get(raw) >>> 32);
        String kind = meta.nodeTypes().get(v8Type);
        String name = V8Types.isNamed(kind) ? strings.text(pass.rawKeys.get(raw).intValue()) : "";
        String text = V8Types.name(kind, name);
        Integer known = numbers.putIfAbsent(text, types.size());
        number[raw] = known == null ? types.size() : known;
        TypeInfo info = V8Types.info(kind, text);
        if (known == null) {
          types.add(info);
        } else if (info.is(TypeInfo.Trait.PAGE) || info.is(TypeInfo.Trait.ELEMENT)) {
          // the prototype of a document or an element comes before it
          TypeInfo before = types.get(known);
          Set<TypeInfo.Trait> traits = EnumSet.copyOf(info.traits());
          traits.retainAll(Set.of(TypeInfo.Trait.PAGE, TypeInfo.Trait.ELEMENT));
          traits.addAll(before.traits());
          types.set(known, new TypeInfo(before.name(), "", -1, traits));
        }
        closureType = kind.equals(V8Format.CLOSURE) ? number[raw] : closureType;
      }
      int end = first + pass.objects();
      for (int n = first; n < end; n++) {
        type.set(n, number[type.get(n)]);
      }
      first = end;
    }
    return types;
  }
}
