package lipsanon.index;

import java.io.Closeable;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import lipsanon.array.IntList;
import lipsanon.graph.Strength;

/**
 * A snapshot with its index: columns by object number, types, roots, and a reader of single
 * objects. The columns are mapped files, so that opening costs the same for any size. Columns may
 * be read by several threads; {@link #objects} by one.
 */
public final class Snapshot implements Closeable {
  private static final Strength[] STRENGTHS = Strength.values();

  private static final int SAMPLE_SHIFT = 10;

  /** Made when it is first needed. Two threads may both make it, which harms nothing. */
  private volatile long[] sample;

  private final Path file;
  private final Path folder;
  private final Meta meta;
  private final PackedColumn ids;
  private final PackedColumn idOrder;
  private final Map<String, PackedColumn> extras = new HashMap<>();
  private final PackedColumn types;
  private final PackedColumn shallow;
  private final PackedColumn retained;
  private final PackedColumn dominators;
  private final PackedColumn depths;
  private final PackedColumn strengths;
  private final PackedColumn positions;
  private final PackedColumn top;
  private final ListColumn inbound;
  private final PackedColumn joins;
  private final ListColumn joinKeepers;
  private final Map<Integer, List<RootInfo>> rootsOfNode = new HashMap<>();
  private final Set<Integer> classNodes = new HashSet<>();
  private final ObjectReaders readers;
  private final ObjectReader objects;

  Snapshot(Path file, Path folder, Meta meta, ObjectReaders readers) throws IOException {
    this.file = file;
    this.folder = folder;
    this.meta = meta;
    this.readers = readers;
    this.ids = column(IndexFiles.ID);
    this.idOrder = meta.idStyle() == IdStyle.SERIAL ? column(IndexFiles.ID_ORDER) : null;
    for (Meta.Extra extra : meta.extras()) {
      String name = IndexFiles.extra(extra.name(), meta.build());
      extras.put(extra.name(), column(name, extra.count()));
    }
    this.types = column(IndexFiles.TYPE);
    this.shallow = column(IndexFiles.SHALLOW);
    this.retained = column(IndexFiles.RETAINED);
    this.dominators = column(IndexFiles.DOMINATOR);
    this.depths = column(IndexFiles.DEPTH);
    this.strengths = column(IndexFiles.STRENGTH);
    this.positions = column(IndexFiles.POSITION);
    this.top = PackedColumn.open(folder.resolve(IndexFiles.TOP.file(meta.build())), meta.build());
    this.inbound =
        ListColumn.open(
            folder.resolve(IndexFiles.INBOUND_END.file(meta.build())),
            folder.resolve(IndexFiles.INBOUND.file(meta.build())),
            meta.build());
    this.joins =
        PackedColumn.open(folder.resolve(IndexFiles.JOIN.file(meta.build())), meta.build());
    this.joinKeepers =
        ListColumn.open(
            folder.resolve(IndexFiles.JOIN_END.file(meta.build())),
            folder.resolve(IndexFiles.JOIN_FROM.file(meta.build())),
            meta.build());
    for (RootInfo root : meta.roots()) {
      rootsOfNode.computeIfAbsent(root.node(), key -> new ArrayList<>(1)).add(root);
    }
    for (TypeInfo type : meta.types()) {
      if (type.classNode() >= 0) {
        classNodes.add(type.classNode());
      }
    }
    this.objects = readers.open(this, meta.format(), meta.detail());
  }

  private PackedColumn column(IndexFiles column) throws IOException {
    return column(column.file(meta.build()), meta.totals().objects());
  }

  private PackedColumn column(String name, long count) throws IOException {
    Path path = folder.resolve(name);
    if (!Files.exists(path)) {
      throw new BrokenIndexException(path + " is missing");
    }
    PackedColumn opened = PackedColumn.open(path, meta.build());
    if (opened.count() != count) {
      throw new BrokenIndexException(path + " has the wrong number of values");
    }
    return opened;
  }

  /** Reads all files and compares their checksums. */
  void check() throws BrokenIndexException {
    for (PackedColumn column :
        List.of(ids, types, shallow, retained, dominators, depths, strengths, positions, top)) {
      column.check();
    }
    for (PackedColumn extra : extras.values()) {
      extra.check();
    }
    if (idOrder != null) {
      idOrder.check();
    }
    inbound.check();
    joins.check();
    joinKeepers.check();
  }

  /** The snapshot's file. */
  public Path file() {
    return file;
  }

  /** The folder of the index. */
  public Path folder() {
    return folder;
  }

  /** The file's identity when it was indexed. */
  public Identity identity() {
    return meta.identity();
  }

  /** Sums. */
  public Totals totals() {
    return meta.totals();
  }

  /** What is known of the snapshot as a whole. */
  public SnapshotFacts facts() {
    return meta.facts();
  }

  /** Number of objects. */
  public int objectCount() {
    return (int) meta.totals().objects();
  }

  /** All types; an object's {@link #type} is an index into it. */
  public List<TypeInfo> types() {
    return meta.types();
  }

  /** Sums by type. */
  public TypeCounts counts(int type) {
    return meta.counts().get(type);
  }

  /** All roots. */
  public List<RootInfo> roots() {
    return meta.roots();
  }

  /** Very many objects of one type below one that retains much, the largest first. */
  public List<Pile> piles() {
    return meta.piles();
  }

  /** What is known of the children of an object that has very many; null of others. */
  public Brood brood(int node) {
    for (Brood brood : meta.broods()) {
      if (brood.holder() == node) {
        return brood;
      }
    }
    return null;
  }

  /** A retained object of the greatest depth, or -1. */
  public int deepest() {
    return meta.deepest();
  }

  /** The roots of an object, local variables of threads included; mostly none. */
  public List<RootInfo> rootsOf(int node) {
    return rootsOfNode.getOrDefault(node, List.of());
  }

  /** The objects that stand for classes. */
  public Set<Integer> classNodes() {
    return classNodes;
  }

  /** A reader of these figures for a pass over many objects, by one thread. */
  public NodeCursor cursor() {
    return new NodeCursor(this, positions, ids, idOrder == null, meta.unitBytes());
  }

  /** Another reader of single objects, for another thread; whoever asked closes it. */
  public ObjectReader openReader() throws IOException {
    return readers.open(this, meta.format(), meta.detail());
  }

  /** Reads single objects. */
  public ObjectReader objects() {
    return objects;
  }

  /** The type's index. */
  public int type(int node) {
    return types.getInt(node);
  }

  /** The type's name. */
  public String typeName(int node) {
    return meta.types().get(type(node)).name();
  }

  /** The shallow size in bytes. */
  public long shallowBytes(int node) {
    return shallow.get(node) * meta.unitBytes();
  }

  /** The retained size in bytes; 0 for unretained objects. */
  public long retainedBytes(int node) {
    return retained.get(node) * meta.unitBytes();
  }

  /** The immediate dominator, or -1: that is the super-root, or the object is not retained. */
  public int dominator(int node) {
    long difference = dominators.get(node);
    return difference == 0 ? -1 : (int) (node - difference);
  }

  /** The depth; 0 for unretained objects. */
  public int depth(int node) {
    return depths.getInt(node);
  }

  /** The strength. */
  public Strength strength(int node) {
    return STRENGTHS[strengths.getInt(node)];
  }

  /**
   * The objects that refer to one, ascending, but for instances that refer to it as their class.
   */
  public IntList inbound(int node) {
    return inbound.get(node);
  }

  /** Where the record of an object stands in the snapshot's file. */
  public long position(int node) {
    return positions.get(node);
  }

  /** The identifier that the runtime gave. */
  public long rawId(int node) {
    return ids.get(node);
  }

  /** The object with an identifier as users type it, or -1. */
  public int nodeOf(String id) {
    long raw = meta.idStyle().parse(id);
    return raw == -1 ? -1 : nodeOf(raw);
  }

  /** The object with an identifier of the runtime's, or -1. */
  public int nodeOf(long rawId) {
    long[] some = sample();
    int from = 0;
    int to = some.length - 1;
    // the last sampled identifier that is not greater: these lie close together in memory
    while (from < to) {
      int middle = from + to + 1 >>> 1;
      if (Long.compareUnsigned(some[middle], rawId) <= 0) {
        from = middle;
      } else {
        to = middle - 1;
      }
    }
    long low = (long) from << SAMPLE_SHIFT;
    long high = Math.min(ids.count(), low + (1 << SAMPLE_SHIFT)) - 1;
    while (low <= high) {
      long middle = low + high >>> 1;
      int node = idOrder == null ? (int) middle : idOrder.getInt(middle);
      int order = Long.compareUnsigned(ids.get(node), rawId);
      if (order == 0) {
        return node;
      }
      if (order < 0) {
        low = middle + 1;
      } else {
        high = middle - 1;
      }
    }
    return -1;
  }

  /** The same, for an object that probably lies right behind another: made together with it. */
  public int nodeNear(long rawId, int node) {
    if (idOrder == null && node + 1 < ids.count() && ids.get(node + 1) == rawId) {
      return node + 1;
    }
    return nodeOf(rawId);
  }

  /** Every so-manieth identifier in order, so that few pages of the column are looked at. */
  private long[] sample() {
    long[] some = sample;
    if (some == null) {
      some = new long[(int) (ids.count() + (1 << SAMPLE_SHIFT) - 1 >>> SAMPLE_SHIFT)];
      for (int i = 0; i < some.length; i++) {
        long at = (long) i << SAMPLE_SHIFT;
        some[i] = ids.get(idOrder == null ? at : idOrder.get(at));
      }
      sample = some;
    }
    return some;
  }

  /** The object with the so-manieth smallest identifier. */
  public int nodeByRank(int rank) {
    return idOrder == null ? rank : idOrder.getInt(rank);
  }

  /** The identifier as users type it. */
  public String id(int node) {
    return meta.idStyle().text(ids.get(node));
  }

  /** How identifiers are written; serial numbers stay with their objects over several snapshots. */
  public IdStyle idStyle() {
    return meta.idStyle();
  }

  /** A column of the format's reader. */
  public PackedColumn extra(String name) {
    return extras.get(name);
  }

  /** The objects that the super-root dominates immediately, ascending. */
  public PackedColumn topColumn() {
    return top;
  }

  /**
   * The joins, ascending: retained objects, no roots, to which their dominator does not refer. What
   * several objects free together shows in these alone.
   */
  public PackedColumn joinColumn() {
    return joins;
  }

  /** By number of a join: the objects that keep it, but for those that have it as their class. */
  public ListColumn joinKeepers() {
    return joinKeepers;
  }

  /** The lists of referring objects, for scans: see {@link #inbound}. */
  public ListColumn inboundColumn() {
    return inbound;
  }

  /** Strengths as ordinals of {@link Strength}. */
  public PackedColumn strengthColumn() {
    return strengths;
  }

  /** The columns that scans over all objects need. */
  public PackedColumn typeColumn() {
    return types;
  }

  /** Retained sizes in units of {@link #unitBytes}. */
  public PackedColumn retainedColumn() {
    return retained;
  }

  /**
   * Object number less that of the dominator; 0 below the super-root and for unretained objects.
   */
  public PackedColumn dominatorColumn() {
    return dominators;
  }

  /** Depths. */
  public PackedColumn depthColumn() {
    return depths;
  }

  /** Shallow sizes in units of {@link #unitBytes}. */
  public PackedColumn shallowColumn() {
    return shallow;
  }

  /** Bytes of a unit of the size columns. */
  public int unitBytes() {
    return meta.unitBytes();
  }

  @Override
  public void close() throws IOException {
    objects.close();
  }
}
