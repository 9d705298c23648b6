package lipsanon.question;

import java.io.IOException;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.function.Predicate;
import lipsanon.array.IntList;
import lipsanon.holder.Finding;
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
import lipsanon.label.NearestPaths;
import lipsanon.label.Ownership;
import lipsanon.label.TypeFilter;

/**
 * What looks wrong in a single snapshot: single places that retain much through very many similar
 * objects, threads that keep much, very long chains, classes loaded several times over. Two scans
 * over columns; nothing is opened but what retains much.
 */
final class SurveyFindings {
  /** What is worth a finding takes so much of the heap. */
  static final double LARGE = 0.1;

  /** Less of the heap in one type, in many places, is what programs are for. */
  private static final double HALF = 0.5;

  private static final int MANY = 100;

  /** What the runtime has of its own may be so much without being worth a word. */
  private static final long RUNTIMES_OWN_BYTES = 4_000_000;

  private static final int RUNTIMES_OWN = 5_000;

  private static final int MOST = 4;
  static final String NO_TREND = "one snapshot cannot tell whether they go on piling up";

  private static final String NO_GROWTH = "one snapshot cannot tell whether it goes on growing";

  /** A holder that frees less of a type is none. */
  private static final double FREED = 0.5;

  private final Snapshot snapshot;
  private final HolderSearch search;
  private final HolderPath paths;
  private final PiledType piled;
  private final TypeFilter mine;
  private final double heap;
  private final FindingList findings;

  private SurveyFindings(Snapshot snapshot, TypeFilter mine) {
    this.snapshot = snapshot;
    this.mine = mine;
    Ownership ownership = new Ownership(snapshot, mine);
    this.search = new HolderSearch(snapshot, ownership);
    this.paths = new HolderPath(snapshot);
    this.piled = new PiledType(snapshot, ownership);
    this.findings = new FindingList(snapshot);
    this.heap = Math.max(1, snapshot.totals().retainedBytes());
  }

  static List<Finding> of(Snapshot snapshot, TypeFilter mine) throws IOException {
    SurveyFindings search = new SurveyFindings(snapshot, mine);
    search.piles();
    search.chains();
    search.linkedPile(TypeInfo::passage);
    ThreadFindings threads = new ThreadFindings(snapshot, search.search, search.findings);
    threads.finalizers();
    search.rootPile();
    search.linkedPile(type -> mine.isMine(type) && !type.passage());
    search.ownPile();
    search.joinedPiles();
    search.largestObject();
    threads.alike();
    threads.single();
    new ReloadFinding(snapshot, mine, search.search, search.findings).add();
    new CopiesFinding(snapshot, mine, search.search, search.findings).add();
    return search.findings.best(MOST);
  }

  private void piles() throws IOException {
    for (Pile pile : snapshot.piles()) {
      if (pile.count() >= MANY && pile.bytes() >= LARGE * heap && isEven(pile)) {
        pile(pile);
      }
    }
  }

  /** Whether it is still much without the largest of its objects: one alone is no pile. */
  private boolean isEven(Pile pile) {
    int largest = KeepersQuestion.largest(snapshot, pile.holder(), pile.type());
    return largest < 0 || pile.bytes() - snapshot.retainedBytes(largest) >= LARGE * heap;
  }

  private void pile(Pile pile) throws IOException {
    int container = pile.holder();
    if (ofObserver(container)) {
      return;
    }
    TypeInfo info = snapshot.types().get(pile.type());
    IntList some = PileSample.of(snapshot, pile);
    if (info.is(TypeInfo.Trait.CODE) && hasVariables(container) && isProgram(some)) {
      return;
    }
    String what = piled.of(info.name(), some, false);
    boolean entries = info.passage() || info.foreign() && !what.equals(Families.of(info.name()));
    long count = entries ? counted(what, pile) : pile.count();
    Holding holding = holding(pile, some, count);
    if (isRuntimes(what, holding, count, pile.bytes())) {
      return;
    }
    String held = subscribed(container, holding) ? "still subscribed to" : "held by";
    add(what, contents(what, pile), held, holding, container, count, pile.bytes(), pile.example());
  }

  /** Whether functions are each another one: what a script has declared in a scope is no pile. */
  private boolean isProgram(IntList functions) throws IOException {
    Set<String> names = new HashSet<>();
    for (int i = 0; i < functions.size(); i++) {
      names.add(Labels.of(snapshot, functions.get(i)));
    }
    return names.size() > HALF * functions.size();
  }

  /** Adds a finding of very many objects in one place. */
  private void add(
      String what,
      String with,
      String held,
      Holding holding,
      int container,
      long count,
      long bytes,
      int example)
      throws IOException {
    double share = bytes / heap;
    findings.add(
        what,
        holding,
        container,
        count,
        bytes,
        Math.min(0.45, 0.15 + share / 2),
        List.of("one place holds very many similar objects", NO_TREND),
        String.format(
            Locale.ROOT,
            "%,d %s%s retain %s (%.0f %% of the heap), %s %s.",
            count,
            what,
            with,
            Labels.bytes(bytes),
            share * 100,
            held,
            holding.text()),
        paths.to(example, holding.places().get(0)));
  }

  /** Whether it is only what the runtime has of its own, and not much of it. */
  private boolean isRuntimes(String what, Holding holding, long count, long bytes) {
    return holding.whose() == Ownership.Whose.RUNTIME
        && !isMine(what)
        && count < RUNTIMES_OWN
        && bytes < RUNTIMES_OWN_BYTES;
  }

  /** What several variables of one scope hold is told by these, not by who has the scope. */
  private Holding holding(Pile pile, IntList some, long count) throws IOException {
    int container = pile.holder();
    if (isScope(container, pile.example())) {
      Holding variables = search.search(some);
      if (!variables.places().isEmpty()) {
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
  private void joinedPiles() throws IOException {
    for (Pile pile : JoinedPiles.of(snapshot, LARGE * heap)) {
      if (pile.count() >= MANY && !findings.explain(pile.bytes())) {
        pile(pile);
      }
    }
  }

  /** Objects that hang on each other: no single object holds many of them. */
  private void linkedPile(Predicate<TypeInfo> wanted) throws IOException {
    int linked = LinkedPile.type(snapshot, wanted, MANY, LARGE * heap);
    if (linked < 0 || findings.explain(snapshot.counts(linked).retainedBytes())) {
      return;
    }
    LinkedPile pile = LinkedPile.of(snapshot, linked);
    if (pile == null
        || pile.count() < MANY
        || pile.bytes() - pile.largest() < LARGE * heap
        || ofObserver(pile.head())
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
    if (holding.places().isEmpty() || isRuntimes(what, holding, pile.count(), pile.bytes())) {
      return;
    }
    int example = pile.some().get(pile.some().size() / 2);
    add(what, "", "held by", holding, above, pile.count(), pile.bytes(), example);
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
    return entries || below < HALF * pile.count() ? Math.max(pile.count(), below) : below;
  }

  /** Of arrays and collections, what of the user's own is in them: {@code " with 20,000 Crane"}. */
  private String contents(String what, Pile pile) {
    int type = typeNamed(what);
    if (type < 0
        || mine.isMine(snapshot.types().get(type)) && !snapshot.types().get(type).array()) {
      return "";
    }
    int own = OwnPile.largest(snapshot, mine, pile.count(), HALF * pile.bytes());
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

  /** One type that piles up in many places, none of which stands out: the user's own first. */
  private void ownPile() throws IOException {
    boolean found = ownPile(OwnPile.largest(snapshot, mine, MANY, LARGE * heap), "of your types");
    if (!found) {
      ownPile(OwnPile.innermostThing(snapshot, MANY, HALF * heap), "type");
    }
  }

  private boolean ownPile(int type, String whose) throws IOException {
    if (type < 0 || findings.explain(snapshot.counts(type).retainedBytes())) {
      return false;
    }
    OwnPile pile = OwnPile.of(snapshot, type);
    if (pile.heads().isEmpty()
        || ofObserver(pile.heads().get(0))
        || pile.bytes() - largestHead(pile) < LARGE * heap) {
      return false;
    }
    Holding holding = search.search(pile.heads());
    double share = pile.bytes() / heap;
    boolean sole =
        holding.places().size() == 1
            && holding.whose() == Ownership.Whose.OWN
            && holding.freedShare() >= HolderSearch.ENOUGH;
    // what is less than half must hang on one place of the user's own, as in a list for each key
    if (holding.places().isEmpty() || holding.freedShare() < FREED || share < HALF && !sole) {
      return false;
    }
    String what = piled.of(pile.type(), pile.heads(), false);
    if (sole) {
      findings.dropPartsOf(what, holding);
    }
    findings.add(
        what,
        holding,
        holding.container(),
        pile.count(),
        pile.bytes(),
        Math.min(0.4, 0.12 + share / 2),
        List.of("very many objects of one " + whose + " retain much together", NO_TREND),
        String.format(
            Locale.ROOT,
            "%,d %s retain %s together (%.0f %% of the heap), held by %s.",
            pile.count(),
            what,
            Labels.bytes(pile.bytes()),
            share * 100,
            holding.text()),
        paths.to(pile.heads().get(pile.heads().size() / 2), holding.places().get(0)));
    return true;
  }

  private long largestHead(OwnPile pile) {
    long largest = 0;
    for (int i = 0; i < pile.heads().size(); i++) {
      largest = Math.max(largest, snapshot.retainedBytes(pile.heads().get(i)));
    }
    return largest;
  }

  /** Very many handles or the like that were not given back. */
  private void rootPile() throws IOException {
    RootPile pile = RootPile.largest(snapshot);
    if (pile == null
        || pile.count < MANY
        || pile.bytes < LARGE * heap
        || ofObserver(pile.example)
        || findings.explain(pile.bytes)) {
      return;
    }
    double share = pile.bytes / heap;
    String what = Families.of(snapshot.types().get(pile.type).name());
    String held = "a root of its own (" + pile.kind + ")";
    findings.add(
        what,
        Holding.unknown(held),
        -1,
        pile.count,
        pile.bytes,
        Math.min(0.45, 0.15 + share / 2),
        List.of("such roots keep what they were made for until they are given back", NO_TREND),
        String.format(
            Locale.ROOT,
            "%,d %s retain %s (%.0f %% of the heap), each held by %s.",
            pile.count,
            what,
            Labels.bytes(pile.bytes),
            share * 100,
            held),
        new NearestPaths(snapshot).to(pile.example));
  }

  /** A single object that takes much by itself: a buffer, a text, a table with too much room. */
  private void largestObject() throws IOException {
    int largest = LargestObject.find(snapshot, (long) (2 * LARGE * heap));
    if (largest < 0 || ofObserver(largest)) {
      return;
    }
    long bytes = snapshot.shallowBytes(largest);
    if (findings.explain(bytes)) {
      return;
    }
    Holding holding = search.searchOne(largest);
    boolean runtimes = holding.whose() == Ownership.Whose.RUNTIME;
    if (holding.places().isEmpty() || runtimes && bytes < RUNTIMES_OWN_BYTES) {
      return;
    }
    String type = Families.of(snapshot.typeName(largest));
    double share = bytes / heap;
    findings.add(
        type,
        holding,
        -1,
        1,
        bytes,
        Math.min(0.4, 0.1 + share / 2),
        List.of("a single object is very large", NO_GROWTH),
        String.format(
            Locale.ROOT,
            "One %s alone takes %s (%.0f %% of the heap), held by %s.",
            type,
            Labels.bytes(bytes),
            share * 100,
            holding.text()),
        paths.to(largest, holding.places().get(0)));
  }

  /** Whether the machinery through which the program is observed keeps an object. */
  private boolean ofObserver(int node) {
    for (int at = node; at >= 0; at = snapshot.dominator(at)) {
      if (snapshot.types().get(snapshot.type(at)).observer()) {
        return true;
      }
    }
    return false;
  }

  /** Whether a list is what an event calls. */
  private boolean subscribed(int container, Holding holding) {
    int above = container < 0 ? -1 : snapshot.dominator(container);
    return holding.text().contains("event or callback")
        || above >= 0 && snapshot.types().get(snapshot.type(above)).is(TypeInfo.Trait.DELEGATE);
  }

  private void chains() throws IOException {
    LongChain chain = LongChain.of(snapshot);
    if (chain == null) {
      return;
    }
    Holding holding = search.searchOne(chain.first(snapshot));
    long bytes = chain.begin().retainedBytes();
    findings.add(
        chain.link().type(),
        holding,
        -1,
        chain.links(),
        bytes,
        Math.min(0.4, 0.1 + bytes / heap / 2),
        List.of("a chain this long is seldom meant"),
        String.format(
            Locale.ROOT,
            "A chain of %,d %s, %slink by link through %s (%s), begins at %s.",
            chain.links(),
            chain.links(snapshot, piled),
            chain.carried(snapshot, mine, piled),
            Families.of(chain.link().via()),
            Labels.bytes(bytes),
            holding.text()),
        chain.steps());
  }
}
