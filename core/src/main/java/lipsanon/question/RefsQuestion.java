package lipsanon.question;

import java.io.IOException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import lipsanon.array.IntList;
import lipsanon.index.ListColumn;
import lipsanon.index.Reference;
import lipsanon.index.RootInfo;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;
import lipsanon.index.Via;
import lipsanon.label.Families;
import lipsanon.label.Ownership;
import lipsanon.label.SnapshotSummary;
import lipsanon.label.TypeFilter;
import lipsanon.select.Fields;
import lipsanon.select.SelectionParser;

/**
 * Who refers to the objects of a set, or what these refer to: merged over the whole set, level by
 * level. Each object on the other side is read once, so that numbers are exact.
 */
public final class RefsQuestion {
  /** Levels that are followed at most. */
  private static final int DEEPEST = 60;

  private final Snapshot snapshot;
  private final Options options;
  private final Ownership ownership;
  private final BitSet passed = new BitSet();

  /**
   * What to answer.
   *
   * @param selection the set in words
   * @param in who refers to it; else what it refers to
   * @param byType merge by type only, not by field
   * @param weakToo count references that keep nothing as well
   * @param levels how many levels
   * @param follow go on along the strongest way until something of the user's own or a root
   * @param limit rows of a level at most
   * @param mine the user's own types
   */
  public record Options(
      String selection,
      boolean in,
      boolean byType,
      boolean weakToo,
      int levels,
      boolean follow,
      int limit,
      TypeFilter mine) {}

  private RefsQuestion(Snapshot snapshot, Options options) {
    this.snapshot = snapshot;
    this.options = options;
    this.ownership = new Ownership(snapshot, options.mine());
  }

  /** A way while it is counted. */
  private static final class Way {
    final String place;
    final String type;
    final String field;
    final boolean within;
    final boolean own;

    /**
     * Each once, ascending, after {@link #settle}; a bit set a way would be as large as the heap.
     */
    IntList members = new IntList();

    IntList others = new IntList();

    Way(String place, String type, String field, boolean within, boolean own) {
      this.place = place;
      this.type = type;
      this.field = field;
      this.within = within;
      this.own = own;
    }

    void settle() {
      members = distinct(members);
      others = distinct(others);
    }

    private static IntList distinct(IntList list) {
      int[] sorted = list.toArray();
      Arrays.sort(sorted);
      IntList distinct = new IntList();
      for (int i = 0; i < sorted.length; i++) {
        if (i == 0 || sorted[i] != sorted[i - 1]) {
          distinct.add(sorted[i]);
        }
      }
      return distinct;
    }

    void addOthersTo(BitSet set) {
      for (int i = 0; i < others.size(); i++) {
        set.set(others.get(i));
      }
    }
  }

  /** Answers. */
  public static RefsAnswer ask(Snapshot snapshot, BitSet set, Options options) throws IOException {
    return new RefsQuestion(snapshot, options).answer(set);
  }

  private RefsAnswer answer(BitSet set) throws IOException {
    List<RefsAnswer.Level> levels = new ArrayList<>();
    BitSet at = set;
    String what = options.selection();
    String ended = "";
    int most = options.follow() ? DEEPEST : options.levels();
    for (int depth = 1; depth <= most; depth++) {
      passed.or(at);
      List<Way> ways = options.in() ? incoming(at) : outgoing(at);
      levels.add(level(depth, what, at, ways));
      Way strongest = ways.stream().filter(way -> !way.within).findFirst().orElse(null);
      if (strongest == null) {
        ended =
            ways.isEmpty()
                ? "nothing further: no reference " + (options.in() ? "to" : "from") + " these"
                : "only links back to what was passed: a cycle, and it ends here";
        break;
      }
      if (options.follow()) {
        if (strongest.type.isEmpty()) {
          ended = "it ends at roots: " + strongest.place;
          break;
        }
        if (strongest.own) {
          ended = "this is your own: " + strongest.place;
          break;
        }
        at = new BitSet();
        strongest.addOthersTo(at);
        what = selection(levels.get(depth - 1).rows(), strongest);
      } else {
        at = new BitSet();
        for (Way way : ways) {
          if (!way.within) {
            way.addOthersTo(at);
          }
        }
        at.andNot(passed);
        if (at.isEmpty()) {
          ended = depth < most ? "nothing further" : "";
          break;
        }
        what = "what " + (options.in() ? "refers to" : "is referred to by") + " level " + depth;
      }
      if (depth == most && options.follow()) {
        ended = "stopped after " + most + " levels";
      }
    }
    return new RefsAnswer(
        SnapshotSummary.of(snapshot),
        options.selection(),
        options.in() ? "in" : "out",
        set.cardinality(),
        levels,
        ended);
  }

  private static String selection(List<RefsAnswer.Row> rows, Way way) {
    for (RefsAnswer.Row row : rows) {
      if (row.place().equals(way.place) && !row.within()) {
        return row.othersSelection();
      }
    }
    return way.place;
  }

  private RefsAnswer.Level level(int depth, String what, BitSet at, List<Way> ways) {
    BitSet reached = new BitSet();
    BitSet others = new BitSet();
    BitSet within = new BitSet();
    for (Way way : ways) {
      for (int i = 0; i < way.members.size(); i++) {
        reached.set(way.members.get(i));
        if (way.within) {
          within.set(way.members.get(i));
        }
      }
      if (!way.within) {
        way.addOthersTo(others);
      }
    }
    long count = at.cardinality();
    List<RefsAnswer.Row> rows = new ArrayList<>();
    for (Way way : ways.subList(0, Math.min(options.limit(), ways.size()))) {
      rows.add(row(way, what, depth, count));
    }
    return new RefsAnswer.Level(
        depth,
        what,
        count,
        reached.cardinality(),
        within.cardinality(),
        others.cardinality(),
        rows,
        ways.size() - rows.size());
  }

  private RefsAnswer.Row row(Way way, String what, int depth, long count) {
    long shallow = 0;
    for (int i = 0; i < way.others.size(); i++) {
      shallow += snapshot.shallowBytes(way.others.get(i));
    }
    boolean sayable = depth == 1 || options.follow();
    String condition;
    String other = "";
    if (way.type.isEmpty()) {
      condition = "root " + SelectionParser.quoted(way.place.substring("root: ".length()));
    } else {
      String type = "type " + SelectionParser.quoted(way.type);
      String through = way.field.isEmpty() ? "" : " through " + SelectionParser.quoted(way.field);
      condition = (options.in() ? "referred to by (" : "refers to (") + type + ")" + through;
      other =
          type
              + " and "
              + (options.in() ? "refers to (" : "referred to by (")
              + what
              + ")"
              + through;
    }
    return new RefsAnswer.Row(
        way.place,
        way.type,
        way.field,
        way.members.size(),
        count - way.members.size(),
        way.others.size(),
        shallow,
        way.within,
        way.own,
        sayable ? "(" + what + ") and " + condition : "",
        sayable ? "(" + what + ") and not " + condition : "",
        sayable ? other : "");
  }

  /** All ways in which the objects of a set are referred to. */
  private List<Way> incoming(BitSet set) throws IOException {
    Map<String, Way> ways = new HashMap<>();
    BitSet sources = new BitSet();
    ListColumn.Cursor cursor = snapshot.inboundColumn().cursor();
    for (int n = set.nextSetBit(0); n >= 0; n = set.nextSetBit(n + 1)) {
      cursor.moveTo(n);
      int size = cursor.next();
      for (int i = 0; i < size; i++) {
        if (cursor.list()[i] != n) {
          sources.set(cursor.list()[i]);
        }
      }
      for (RootInfo root : snapshot.rootsOf(n)) {
        if (root.thread() < 0) {
          way(ways, "root: " + root.kind(), "", "", false, false).members.add(n);
        }
      }
    }
    for (int s = sources.nextSetBit(0); s >= 0; s = sources.nextSetBit(s + 1)) {
      if (snapshot.depth(s) == 0 && !options.weakToo()) {
        continue;
      }
      int source = s;
      boolean within = passed.get(s);
      references(
          s,
          reference -> {
            if (set.get(reference.target()) && reference.target() != source) {
              Way way = way(ways, source, reference, source, within);
              way.members.add(reference.target());
              way.others.add(source);
            }
          });
    }
    return sorted(ways);
  }

  private List<Way> outgoing(BitSet set) throws IOException {
    Map<String, Way> ways = new HashMap<>();
    for (int n = set.nextSetBit(0); n >= 0; n = set.nextSetBit(n + 1)) {
      int member = n;
      references(
          n,
          reference -> {
            if (reference.target() != member && !reference.via().name().equals("class")) {
              boolean within = passed.get(reference.target());
              Way way = way(ways, member, reference, reference.target(), within);
              way.members.add(member);
              way.others.add(reference.target());
            }
          });
    }
    return sorted(ways);
  }

  private interface Sink {
    void accept(Reference reference);
  }

  /** The references of an object that count. */
  private void references(int node, Sink sink) throws IOException {
    snapshot
        .objects()
        .references(
            node,
            reference -> {
              boolean weak = reference.kind() != Reference.Kind.STRONG;
              if (!weak || options.weakToo() || keeps(reference)) {
                sink.accept(reference);
              }
            });
  }

  /** Soft references count where nothing stronger keeps the target. */
  private boolean keeps(Reference reference) {
    return reference.kind() == Reference.Kind.SOFT
        && snapshot.strength(reference.target()) == lipsanon.graph.Strength.SOFT;
  }

  private Way way(
      Map<String, Way> ways, int holder, Reference reference, int other, boolean within) {
    Via via = reference.via();
    String type = Families.of(snapshot.typeName(other));
    TypeInfo info = snapshot.types().get(snapshot.type(other));
    boolean own =
        ownership.of(info) == Ownership.Whose.OWN || ownership.of(via) == Ownership.Whose.OWN;
    String strength =
        reference.kind() == Reference.Kind.STRONG ? "" : " (" + words(reference.kind()) + ")";
    if (options.byType()) {
      return way(ways, type + strength, type, "", within, own && !info.library());
    }
    String place =
        via.kind() == Via.Kind.ELEMENT || via.group().equals("[]")
            ? Families.of(snapshot.typeName(holder))
                + (via.kind() == Via.Kind.ELEMENT ? " element" : " part")
            : via.group();
    String field = Fields.name(via);
    if (!options.in()) {
      place += " → " + type;
    }
    return way(ways, place + strength, type, field.equals("[…]") ? "" : field, within, own);
  }

  private static String words(Reference.Kind kind) {
    return switch (kind) {
      case SOFT -> "soft";
      case WEAK -> "weak";
      case FINALIZER -> "finalizer";
      case STRONG -> "";
    };
  }

  private static Way way(
      Map<String, Way> ways, String place, String type, String field, boolean within, boolean own) {
    String key = place + "\n" + type + "\n" + within;
    return ways.computeIfAbsent(key, k -> new Way(place, type, field, within, own));
  }

  private static List<Way> sorted(Map<String, Way> ways) {
    List<Way> sorted = new ArrayList<>(ways.values());
    sorted.forEach(Way::settle);
    sorted.sort(
        Comparator.comparing((Way way) -> way.within)
            .thenComparing(Comparator.comparingLong((Way way) -> -way.members.size()))
            .thenComparing(way -> way.place));
    return sorted;
  }
}
