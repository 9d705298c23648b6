package lipsanon.select;

import java.io.IOException;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import lipsanon.graph.Strength;
import lipsanon.index.RootInfo;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;
import lipsanon.label.TypeFilter;
import lipsanon.select.Selection.Comparison;

/**
 * Finds the objects of a selection, as a set of their numbers. What columns tell is scanned, 64
 * objects at a time; what wants a look into objects (texts, fields, arrays) is asked only of those
 * that the other parts of an {@code and} leave. One thread.
 */
public final class Selector {
  /** Selections by name may refer to others, not to themselves. */
  private static final int DEEPEST = 50;

  private final Snapshot snapshot;
  private final Options options;
  private int depth;

  /**
   * What a selection may refer to.
   *
   * @param mine the user's own types
   * @param named selections by name, as texts
   * @param earlier opens an earlier snapshot, which is closed after use
   * @param stop asked now and then whether what was found so far will do
   */
  public record Options(TypeFilter mine, Map<String, String> named, Opener earlier, Stop stop) {
    /** Nothing but the snapshot itself. */
    public static final Options DEFAULTS =
        new Options(
            new TypeFilter(null, List.of(), true),
            Map.of(),
            file -> {
              throw new IOException("no other snapshot can be opened here");
            },
            Stop.NEVER);
  }

  /** Says when a long search should end with what it has. */
  public interface Stop {
    /** Goes on to the end. */
    Stop NEVER = () -> false;

    /** Whether to end. */
    boolean now();
  }

  /** Opens a snapshot. */
  public interface Opener {
    /** Opens the snapshot of a file. */
    Snapshot open(String file) throws Exception;
  }

  /** Selects in a snapshot. */
  public Selector(Snapshot snapshot, Options options) {
    this.snapshot = snapshot;
    this.options = options;
  }

  /**
   * The objects that a text selects: a selection, or any name that an answer prints.
   *
   * @throws SelectionException if it cannot be understood, or names what is not there
   */
  public BitSet select(String text) throws Exception {
    try {
      return select(SelectionParser.parse(text));
    } catch (SelectionException e) {
      // names may look like anything: "system / Context", "(closure)"
      BitSet named = Selections.namedSet(snapshot, text.trim());
      if (named == null) {
        throw e;
      }
      return named;
    }
  }

  /** The objects that are selected. */
  public BitSet select(Selection selection) throws Exception {
    return find(selection, null);
  }

  private BitSet everything() {
    BitSet all = new BitSet(snapshot.objectCount());
    all.set(0, snapshot.objectCount());
    return all;
  }

  /** Finds within a set; null for all. The result may hold objects outside, and is the caller's. */
  private BitSet find(Selection selection, BitSet within) throws Exception {
    if (selection instanceof Selection.And and) {
      List<Selection> parts = new ArrayList<>(and.parts());
      parts.sort(Comparator.comparingInt(Selector::cost));
      BitSet left = within == null ? null : (BitSet) within.clone();
      for (Selection part : parts) {
        BitSet found = find(part, left);
        if (left == null) {
          left = found;
        } else {
          left.and(found);
        }
      }
      return left;
    } else if (selection instanceof Selection.Or or) {
      BitSet union = new BitSet(snapshot.objectCount());
      for (Selection part : or.parts()) {
        union.or(find(part, within));
      }
      return union;
    } else if (selection instanceof Selection.Not not) {
      BitSet rest = within == null ? everything() : (BitSet) within.clone();
      rest.andNot(find(not.other(), within));
      return rest;
    } else if (selection instanceof Selection.Named named) {
      return named(named, within);
    }
    return cost(selection) == 0 ? ofColumns(selection) : ofObjects(selection, within);
  }

  /** What is cheap comes first. */
  private static int cost(Selection selection) {
    if (selection instanceof Selection.Measured measured) {
      return measured.figure() == Selection.Figure.LENGTH ? 2 : 0;
    } else if (selection instanceof Selection.WithText
        || selection instanceof Selection.WithField) {
      return 4;
    } else if (selection instanceof Selection.AllocatedIn
        || selection instanceof Selection.AllocatedDuring) {
      return 2;
    } else if (selection instanceof Selection.KeptBy
        || selection instanceof Selection.FreedWith
        || selection instanceof Selection.RefersTo
        || selection instanceof Selection.ReferredToBy
        || selection instanceof Selection.NewSince
        || selection instanceof Selection.Named) {
      return 1;
    } else if (selection instanceof Selection.And and) {
      return and.parts().stream().mapToInt(Selector::cost).max().orElse(0);
    } else if (selection instanceof Selection.Or or) {
      return or.parts().stream().mapToInt(Selector::cost).max().orElse(0);
    } else if (selection instanceof Selection.Not not) {
      return cost(not.other());
    }
    return 0;
  }

  private BitSet named(Selection.Named named, BitSet within) throws Exception {
    String text = options.named().get(named.name());
    if (text == null) {
      List<String> near = Near.of(named.name(), options.named().keySet());
      throw SelectionException.missing(
          "no selection is named $"
              + named.name()
              + (near.isEmpty() ? "" : "; near: $" + String.join(", $", near)),
          named.at());
    }
    if (++depth > DEEPEST) {
      throw new SelectionException("$" + named.name() + " refers to itself", named.at());
    }
    try {
      return find(SelectionParser.parse(text), within);
    } finally {
      depth--;
    }
  }

  private BitSet ofColumns(Selection selection) throws Exception {
    if (selection instanceof Selection.All) {
      return everything();
    } else if (selection instanceof Selection.Single single) {
      return single(single);
    } else if (selection instanceof Selection.OfType type) {
      BitSet named = Selections.namedSet(snapshot, type.name());
      if (named == null) {
        throw noType(type.name(), type.at());
      }
      return named;
    } else if (selection instanceof Selection.OfKind kind) {
      return kind(kind);
    } else if (selection instanceof Selection.Own) {
      return ofTypes(options.mine()::isMine);
    } else if (selection instanceof Selection.LoadedBy loader) {
      return loadedBy(loader);
    } else if (selection instanceof Selection.OfStrength strength) {
      int ordinal = Strength.valueOf(strength.strength().toUpperCase(Locale.ROOT)).ordinal();
      return Scan.range(snapshot.strengthColumn(), ordinal, ordinal);
    } else if (selection instanceof Selection.Rooted rooted) {
      return rooted(rooted);
    }
    return measured((Selection.Measured) selection);
  }

  private BitSet single(Selection.Single single) throws SelectionException {
    int node = Selections.object(snapshot, single.id());
    if (node < 0) {
      throw SelectionException.missing("no object has the identifier " + single.id(), single.at());
    }
    BitSet one = new BitSet();
    one.set(node);
    return one;
  }

  private SelectionException noType(String name, int at) {
    List<String> near = Selections.near(snapshot, name);
    return SelectionException.missing(
        "no type " + name + (near.isEmpty() ? "" : "; near: " + String.join(", ", near)), at);
  }

  private BitSet ofTypes(java.util.function.Predicate<TypeInfo> wanted) {
    List<Integer> types = new ArrayList<>();
    for (int t = 0; t < snapshot.types().size(); t++) {
      if (wanted.test(snapshot.types().get(t))) {
        types.add(t);
      }
    }
    return Selections.set(snapshot, types);
  }

  /** A type with all whose chain of superclasses leads to it. */
  private BitSet kind(Selection.OfKind kind) throws Exception {
    Set<Integer> classes = new HashSet<>();
    Set<Integer> found = new TreeSet<>();
    for (int t = 0; t < snapshot.types().size(); t++) {
      TypeInfo type = snapshot.types().get(t);
      String name = type.name();
      boolean named =
          name.equals(kind.name())
              || name.endsWith("." + kind.name())
              || name.endsWith("$" + kind.name());
      if (named && type.classNode() >= 0) {
        classes.add(type.classNode());
      }
    }
    if (classes.isEmpty()) {
      throw noType(kind.name(), kind.at());
    }
    Map<Integer, Integer> superOf = superclasses();
    if (superOf.isEmpty()) {
      throw SelectionException.missing(
          "this snapshot does not tell subtypes; use `type`", kind.at());
    }
    for (int t = 0; t < snapshot.types().size(); t++) {
      Integer at = snapshot.types().get(t).classNode();
      for (int i = 0; at != null && at >= 0 && i < 1000; i++) {
        if (classes.contains(at)) {
          found.add(t);
          break;
        }
        at = superOf.get(at);
      }
    }
    return Selections.set(snapshot, List.copyOf(found));
  }

  private Map<Integer, Integer> superclasses() throws IOException {
    Map<Integer, Integer> superOf = new HashMap<>();
    for (int cls : snapshot.classNodes()) {
      snapshot
          .objects()
          .references(
              cls,
              reference -> {
                if (reference.via().name().equals("superclass")) {
                  superOf.put(cls, reference.target());
                }
              });
    }
    return superOf;
  }

  private BitSet loadedBy(Selection.LoadedBy loader) throws SelectionException {
    TypeFilter filter = new TypeFilter(loader.loader(), List.of(), false);
    Set<String> loaders = new TreeSet<>();
    snapshot.types().forEach(type -> loaders.add(type.loader()));
    if (loaders.stream().noneMatch(filter::fits)) {
      List<String> near = new ArrayList<>(loaders);
      near.remove("");
      throw SelectionException.missing(
          "no loader "
              + loader.loader()
              + (near.isEmpty() ? "; none is known here" : "; there are: " + few(near)),
          loader.at());
    }
    return ofTypes(type -> filter.fits(type.loader()));
  }

  private static String few(List<String> names) {
    return String.join(", ", names.subList(0, Math.min(5, names.size())))
        + (names.size() > 5 ? ", …" : "");
  }

  private BitSet rooted(Selection.Rooted rooted) throws SelectionException {
    TypeFilter filter =
        new TypeFilter(rooted.kind().isEmpty() ? null : rooted.kind(), List.of(), false);
    BitSet found = new BitSet();
    Set<String> kinds = new TreeSet<>();
    for (RootInfo root : snapshot.roots()) {
      kinds.add(root.kind());
      if (rooted.kind().isEmpty() || filter.fits(root.kind())) {
        found.set(root.node());
      }
    }
    if (found.isEmpty() && !kinds.isEmpty()) {
      throw SelectionException.missing(
          "no root is of kind " + rooted.kind() + "; there are: " + few(new ArrayList<>(kinds)),
          rooted.at());
    }
    return found;
  }

  private BitSet measured(Selection.Measured measured) {
    long value = measured.value();
    int unit = snapshot.unitBytes();
    return switch (measured.figure()) {
      case DEPTH -> compare(snapshot.depthColumn(), measured.comparison(), value, 1);
      case SHALLOW -> compare(snapshot.shallowColumn(), measured.comparison(), value, unit);
      default -> compare(snapshot.retainedColumn(), measured.comparison(), value, unit);
    };
  }

  /** Compares a column, whose values are in units of so many bytes, with a number of bytes. */
  private static BitSet compare(
      lipsanon.index.PackedColumn column, Comparison comparison, long value, int unit) {
    long most = Long.MAX_VALUE / unit;
    return switch (comparison) {
      case EQUAL ->
          value % unit == 0 ? Scan.range(column, value / unit, value / unit) : new BitSet();
      case UNEQUAL -> Scan.of(column, units -> units * unit != value);
      case LESS -> Scan.range(column, 0, Math.floorDiv(value - 1, unit));
      case AT_MOST -> Scan.range(column, 0, Math.floorDiv(value, unit));
      case MORE -> Scan.range(column, Math.floorDiv(value, unit) + 1, most);
      default -> Scan.range(column, Math.floorDiv(value + unit - 1, unit), most);
    };
  }

  private BitSet ofObjects(Selection selection, BitSet within) throws Exception {
    if (selection instanceof Selection.KeptBy kept) {
      return KeeperTree.below(snapshot, find(kept.keepers(), null));
    } else if (selection instanceof Selection.FreedWith freed) {
      BitSet others = find(freed.others(), null);
      BitSet gone = Removal.of(snapshot, others).objects();
      gone.andNot(others);
      return gone;
    } else if (selection instanceof Selection.RefersTo refers) {
      return References.to(snapshot, find(refers.targets(), null), refers.field());
    } else if (selection instanceof Selection.ReferredToBy referred) {
      return References.from(snapshot, find(referred.sources(), null), referred.field());
    } else if (selection instanceof Selection.NewSince since) {
      return newSince(since);
    } else if (selection instanceof Selection.AllocatedIn in) {
      return new Allocations(snapshot, in.at()).in(in, within == null ? everything() : within);
    } else if (selection instanceof Selection.AllocatedDuring during) {
      return new Allocations(snapshot, during.at())
          .during(during, within == null ? everything() : within);
    }
    return new Contents(snapshot, options.stop())
        .find(selection, within == null ? everything() : within);
  }

  private BitSet newSince(Selection.NewSince since) throws Exception {
    try (Snapshot before = options.earlier().open(since.file())) {
      Identities identities = Identities.of(before, snapshot);
      if (identities == null) {
        throw new SelectionException(
            "objects of "
                + since.file()
                + " and "
                + snapshot.file()
                + " cannot be told to be the same: identifiers stay only within one rehearsal, or"
                + " in snapshots that a V8 program writes itself",
            -1);
      }
      return identities.added;
    }
  }
}
