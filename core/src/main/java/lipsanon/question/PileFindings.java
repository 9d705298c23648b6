package lipsanon.question;

import java.io.IOException;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.function.Predicate;
import lipsanon.array.IntList;
import lipsanon.holder.HolderPath;
import lipsanon.holder.HolderSearch;
import lipsanon.holder.Holding;
import lipsanon.holder.PiledType;
import lipsanon.index.Pile;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;
import lipsanon.index.Via;
import lipsanon.label.Families;
import lipsanon.label.Labels;
import lipsanon.label.Ownership;
import lipsanon.label.TypeFilter;

/** Findings of very many similar objects that lie in one place, or hang on each other. */
final class PileFindings {
  /** What the runtime has of its own may be so much without being worth a word. */
  static final long RUNTIMES_OWN_BYTES = 4_000_000;

  private static final int RUNTIMES_OWN = 5_000;

  /** So many tables below one object, so far below it, may be parts of one. */
  private static final int FEW = 3;

  private static final int NEAR = 3;

  private final Snapshot snapshot;
  private final TypeFilter mine;
  private final double heap;
  private final HolderSearch search;
  private final HolderPath paths;
  private final PiledType piled;
  private final FindingList findings;

  PileFindings(
      Snapshot snapshot,
      TypeFilter mine,
      HolderSearch search,
      PiledType piled,
      FindingList findings) {
    this.snapshot = snapshot;
    this.mine = mine;
    this.heap = Math.max(1, snapshot.totals().retainedBytes());
    this.search = search;
    this.paths = new HolderPath(snapshot);
    this.piled = piled;
    this.findings = findings;
  }

  /**
   * Adds what lies in single places.
   *
   * @return types of which very many are held by several classes: by no single place
   */
  IntList add() throws IOException {
    IntList several = new IntList();
    Map<List<String>, Told> all = new LinkedHashMap<>();
    for (Pile pile : snapshot.piles()) {
      boolean large =
          pile.count() >= SurveyFindings.MANY && pile.bytes() >= SurveyFindings.LARGE * heap;
      if (!large || !isEven(pile) || ofObserver(snapshot, pile.holder())) {
        continue;
      }
      boolean listed = search.isListOfClasses(pile.holder());
      if (listed && !snapshot.classNodes().contains(pile.example())) {
        several.add(pile.type());
        continue;
      }
      Told told = told(pile);
      if (told != null) {
        all.merge(told.key(snapshot), told, (a, b) -> a.with(b, snapshot));
      }
    }
    for (Told told : all.values()) {
      add(told);
    }
    return several;
  }

  /** What very many objects in one place are, and what holds them. */
  private record Told(
      String what,
      String contents,
      String held,
      Holding holding,
      int container,
      long count,
      long bytes,
      int example) {
    /** Whether it is about the same things with the same holder, and in containers alike. */
    List<String> key(Snapshot snapshot) {
      String type = container < 0 ? "" : snapshot.typeName(container);
      return List.of(what, holding.text(), type, String.valueOf(holding.places().size()));
    }

    /** The same things, which the container has in two ways, or which are in another as well. */
    Told with(Told other, Snapshot snapshot) {
      long more = bytes + other.bytes;
      if (container == other.container) {
        long most = Math.max(count, other.count);
        return new Told(what, contents, held, holding, container, most, more, example);
      }
      if (isWithin(snapshot, container, other.container)
          || isWithin(snapshot, other.container, container)) {
        return bytes >= other.bytes ? this : other;
      }
      long both = count + other.count;
      return new Told(what, "", held, holding.and(other.holding), container, both, more, example);
    }
  }

  /** Whether an object dominates another one, or is it. */
  static boolean isWithin(Snapshot snapshot, int node, int above) {
    int at = node;
    while (at >= 0 && at != above) {
      at = snapshot.dominator(at);
    }
    return at == above;
  }

  /** Whether it is still much without the largest of its objects: one alone is no pile. */
  private boolean isEven(Pile pile) {
    int largest = KeepersQuestion.largest(snapshot, pile.holder(), pile.type());
    return largest < 0
        || pile.bytes() - snapshot.retainedBytes(largest) >= SurveyFindings.LARGE * heap;
  }

  /** Null if it is nothing to look into. */
  private Told told(Pile pile) throws IOException {
    int container = pile.holder();
    TypeInfo info = snapshot.types().get(pile.type());
    IntList some = PileSample.of(snapshot, pile);
    boolean code = info.is(TypeInfo.Trait.CODE) && hasVariables(container);
    // a scope has as many variables as its source has
    boolean declared = code && snapshot.inbound(pile.example()).contains(container);
    if (declared || code && isProgram(some)) {
      return null;
    }
    String what = piled.of(info.name(), some, false);
    boolean entries = info.passage() || info.foreign() && !what.equals(Families.of(info.name()));
    long count = entries ? counted(what, pile) : pile.count();
    Holding holding = holding(pile, some, count);
    if (info.is(TypeInfo.Trait.CODE)
        && hasVariables(container)
        && isBesideThePoint(holding, pile)) {
      return null;
    }
    String held = subscribed(container, holding) ? "still subscribed to" : "held by";
    return new Told(
        what, contents(what, pile), held, holding, container, count, pile.bytes(), pile.example());
  }

  /** Whether functions are each another one: what a script has declared in a scope is no pile. */
  private boolean isProgram(IntList functions) throws IOException {
    Set<String> names = new HashSet<>();
    for (int i = 0; i < functions.size(); i++) {
      names.add(Labels.of(snapshot, functions.get(i)));
    }
    return names.size() > SurveyFindings.HALF * functions.size();
  }

  /** Whether what was found for some of a scope's functions holds hardly any of all. */
  private static boolean isBesideThePoint(Holding holding, Pile pile) {
    return holding.places().size() == 1
        && holding.places().get(0).freedBytes() < SurveyFindings.LARGE * pile.bytes();
  }

  /** Adds a finding of very many objects in one place. */
  private void add(Told told) throws IOException {
    if (isRuntimes(told)) {
      return;
    }
    double share = told.bytes / heap;
    findings.add(
        told.what,
        told.holding,
        told.container,
        told.count,
        told.bytes,
        Math.min(0.45, 0.15 + share / 2),
        List.of("one place holds very many similar objects", SurveyFindings.NO_TREND),
        String.format(
            Locale.ROOT,
            "%,d %s%s retain %s (%.0f %% of the heap), %s %s.",
            told.count,
            told.what,
            told.contents,
            Labels.bytes(told.bytes),
            share * 100,
            told.held,
            told.holding.text()),
        paths.to(told.example, told.holding.places().get(0)));
  }

  /** Whether it is only what the runtime has of its own, and not much of it. */
  private boolean isRuntimes(Told told) {
    return told.holding.whose() == Ownership.Whose.RUNTIME
        && !isMine(told.what)
        && told.count < RUNTIMES_OWN
        && told.bytes < RUNTIMES_OWN_BYTES;
  }

  /**
   * What several variables of one scope or class hold, or several fields of somebody's own object,
   * is told by these, not by who has them; so is what a page has in several lists.
   */
  private Holding holding(Pile pile, IntList some, long count) throws IOException {
    int container = pile.holder();
    TypeInfo type = snapshot.types().get(snapshot.type(container));
    boolean page = type.is(TypeInfo.Trait.PAGE);
    boolean fields =
        (snapshot.classNodes().contains(container) || mine.isMine(type) && !type.array())
            && !snapshot.inbound(pile.example()).contains(container);
    if (page || fields || isScope(container, pile.example())) {
      Holding variables = search.search(some);
      // one of several that holds hardly anything by itself says less than who has them all
      boolean told =
          !fields
              || variables.places().size() > 1
                  && variables.places().stream().allMatch(place -> place.node() == container);
      if (!variables.places().isEmpty() && told) {
        return new Holding(
            variables.places(),
            count,
            pile.bytes(),
            count,
            variables.inside(),
            container,
            variables.whose(),
            false);
      }
    }
    return search.searchBelow(container, count, pile.bytes());
  }

  /** Whether an object is a scope that holds another one only through several variables. */
  private boolean isScope(int node, int below) throws IOException {
    return !snapshot.inbound(below).contains(node) && hasVariables(node);
  }

  /** Whether an object is a scope: what it refers to are variables. */
  private boolean hasVariables(int node) throws IOException {
    boolean[] found = new boolean[1];
    snapshot
        .objects()
        .references(
            node,
            ref ->
                found[0] |=
                    ref.via().kind() == Via.Kind.VARIABLE
                        || ref.via().kind() == Via.Kind.LIBRARY_VARIABLE);
    return found[0];
  }

  /** What lies in a few tables below one object. */
  void joined() throws IOException {
    double large = SurveyFindings.LARGE * heap;
    for (Pile pile : JoinedPiles.of(snapshot, large, FEW, NEAR)) {
      Told told = findings.explain(pile.bytes()) ? null : toldTogether(pile);
      if (told != null) {
        add(told);
      }
    }
  }

  private Told toldTogether(Pile pile) throws IOException {
    boolean none =
        pile.count() < SurveyFindings.MANY
            || ofObserver(snapshot, pile.holder())
            || search.isListOfClasses(pile.holder());
    return none ? null : told(pile);
  }

  /** Objects that hang on each other: no single object holds many of them. */
  void linked(Predicate<TypeInfo> wanted) throws IOException {
    int linked =
        LinkedPile.type(snapshot, wanted, SurveyFindings.MANY, SurveyFindings.LARGE * heap);
    if (linked < 0 || findings.explain(snapshot.counts(linked).retainedBytes())) {
      return;
    }
    LinkedPile pile = LinkedPile.of(snapshot, linked);
    if (pile == null
        || pile.count() < SurveyFindings.MANY
        || pile.bytes() - pile.largest() < SurveyFindings.LARGE * heap
        || ofObserver(snapshot, pile.head())
        || findings.explain(pile.bytes())) {
      return;
    }
    String type = snapshot.types().get(pile.type()).name();
    String what = piled.of(type, pile.some(), false);
    boolean entry = snapshot.types().get(pile.type()).passage();
    int above = entry ? snapshot.dominator(pile.head()) : -1;
    Holding holding =
        above < 0
            ? search.searchOne(pile.head())
            : search.searchBelow(above, pile.count(), pile.bytes());
    if (holding.places().isEmpty()) {
      return;
    }
    int example = pile.some().get(pile.some().size() / 2);
    add(new Told(what, "", "held by", holding, above, pile.count(), pile.bytes(), example));
  }

  /**
   * How many objects of the type that is named a container holds: entries of a table that share a
   * place hang on each other, and only the first of them on the table; and a table may have more
   * entries than things in them.
   */
  private long counted(String what, Pile pile) {
    int type = typeNamed(what);
    boolean entries = type == pile.type();
    if (type < 0 || entries && snapshot.counts(type).count() <= pile.count()) {
      return pile.count();
    }
    long below = below(type, pile);
    return entries || below < SurveyFindings.HALF * pile.count()
        ? Math.max(pile.count(), below)
        : below;
  }

  /** Of arrays and collections, what of the user's own is in them: {@code " with 20,000 Crane"}. */
  private String contents(String what, Pile pile) {
    int type = typeNamed(what);
    if (type < 0
        || mine.isMine(snapshot.types().get(type)) && !snapshot.types().get(type).array()) {
      return "";
    }
    int own = OwnPile.largest(snapshot, mine, pile.count(), SurveyFindings.HALF * pile.bytes());
    long count = own < 0 ? 0 : below(own, pile);
    return count < Math.max(1, pile.count())
        ? ""
        : String.format(
            Locale.ROOT, " with %,d %s", count, Families.of(snapshot.types().get(own).name()));
  }

  /** Whether a type is the user's own; of no type of the snapshot's it is not known. */
  private boolean isMine(String name) {
    int type = typeNamed(name);
    return type < 0 || mine.isMine(snapshot.types().get(type));
  }

  /** The type of that name, of several the one with most objects; or -1. */
  private int typeNamed(String name) {
    int found = -1;
    for (int t = 0; t < snapshot.types().size(); t++) {
      boolean more = found < 0 || snapshot.counts(t).count() > snapshot.counts(found).count();
      found = more && snapshot.types().get(t).name().equals(name) ? t : found;
    }
    return found;
  }

  /** How many objects of a type the pile's holder dominates; 0 where there are too many to look. */
  private long below(int type, Pile pile) {
    return snapshot.counts(type).count() > Below.MOST_COUNTED
        ? 0
        : Below.count(snapshot, pile.holder(), OwnPile.members(snapshot, type, Below.MOST_COUNTED));
  }

  /** Whether a list is what an event calls. */
  private boolean subscribed(int container, Holding holding) {
    int above = container < 0 ? -1 : snapshot.dominator(container);
    return holding.text().contains("event or callback")
        || above >= 0 && snapshot.types().get(snapshot.type(above)).is(TypeInfo.Trait.DELEGATE);
  }

  /** Whether the machinery through which the program is observed keeps an object. */
  static boolean ofObserver(Snapshot snapshot, int node) {
    for (int at = node; at >= 0; at = snapshot.dominator(at)) {
      if (snapshot.types().get(snapshot.type(at)).observer()) {
        return true;
      }
    }
    return false;
  }
}
