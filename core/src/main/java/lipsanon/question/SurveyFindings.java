package lipsanon.question;

import java.io.IOException;
import java.util.List;
import java.util.Locale;
import lipsanon.array.IntList;
import lipsanon.holder.Finding;
import lipsanon.holder.HolderPath;
import lipsanon.holder.HolderSearch;
import lipsanon.holder.Holding;
import lipsanon.holder.PiledType;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;
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
  static final double HALF = 0.5;

  static final int MANY = 100;
  private static final int VERY_MANY = 1_000;

  private static final String YOURS = "of your types";
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
    PileFindings piles =
        new PileFindings(snapshot, mine, search.search, search.piled, search.findings);
    IntList several = piles.add();
    for (int i = 0; i < several.size(); i++) {
      search.ownPile(several.get(i), "type", false);
    }
    search.chains();
    piles.linked(TypeInfo::passage);
    ThreadFindings threads = new ThreadFindings(snapshot, search.search, search.findings);
    threads.finalizers();
    search.rootPile();
    piles.linked(type -> mine.isMine(type) && !type.passage());
    search.ownPile();
    piles.joined();
    search.largestObject();
    threads.alike();
    threads.single();
    new ReloadFinding(snapshot, mine, search.search, search.findings).add();
    new CopiesFinding(snapshot, mine, search.search, search.findings).add();
    new MadeClasses(snapshot, search.search, search.findings, search.heap).add();
    return search.findings.best(MOST);
  }

  /** One type that piles up in many places, none of which stands out: the user's own first. */
  private void ownPile() throws IOException {
    int own = OwnPile.largest(snapshot, mine, MANY, LARGE * heap);
    boolean found = ownPile(own, YOURS, true);
    IntList things = OwnPile.things(snapshot, MANY, HALF * heap);
    for (int i = 0; i < things.size() && !found; i++) {
      found = ownPile(things.get(i), "type", true);
    }
    found = found || ownPile(own, YOURS, false);
    if (!found) {
      ownPile(OwnPile.foreignThing(snapshot, VERY_MANY, LARGE * heap), "type", false);
    }
  }

  /**
   * Adds a finding of the objects of one type.
   *
   * @param sole whether what is less than half of the heap must hang on one place of the user's
   *     own, as in a list for each key; else very many objects may hang on a few of anybody's
   * @return whether there is one
   */
  private boolean ownPile(int type, String whose, boolean sole) throws IOException {
    if (type < 0) {
      return false;
    }
    long bytes = snapshot.counts(type).retainedBytes();
    String name = Families.of(snapshot.types().get(type).name());
    boolean partly = findings.explainPartOf(name, bytes);
    if (findings.explain(bytes) && !partly) {
      return false;
    }
    OwnPile pile = OwnPile.of(snapshot, type);
    if (pile.heads().isEmpty()
        || PileFindings.ofObserver(snapshot, pile.heads().get(0))
        || pile.bytes() - largestHead(pile) < LARGE * heap) {
      return false;
    }
    Holding holding = search.search(pile.heads());
    double share = pile.bytes() / heap;
    boolean enough = holding.freedShare() >= HolderSearch.ENOUGH;
    boolean one = holding.places().size() == 1 && holding.whose() == Ownership.Whose.OWN && enough;
    boolean many =
        pile.count() >= VERY_MANY && holding.whose() != Ownership.Whose.RUNTIME && enough;
    // what is in a page is told by where it is: nothing but its removal frees it
    boolean placed = !holding.places().isEmpty() && holding.freed() == 0;
    // so is what a library has in a list to which others have handles
    boolean listed =
        placed && pile.count() >= VERY_MANY && holding.whose() == Ownership.Whose.LIBRARY;
    boolean held = one || (many || listed) && !sole;
    boolean freed = !holding.places().isEmpty() && holding.freedShare() >= FREED;
    if (!freed && !listed && !(placed && share >= HALF) || share < HALF && !held) {
      return false;
    }
    String what = piled.of(pile.type(), pile.heads(), false);
    if (partly && !findings.knows(what, holding)) {
      return false;
    }
    if (one || partly) {
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
        || PileFindings.ofObserver(snapshot, pile.example)
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
    if (largest < 0 || PileFindings.ofObserver(snapshot, largest)) {
      return;
    }
    long bytes = snapshot.shallowBytes(largest);
    if (findings.explain(bytes)) {
      return;
    }
    Holding holding = search.searchOne(largest);
    boolean runtimes = holding.whose() == Ownership.Whose.RUNTIME;
    if (holding.places().isEmpty() || runtimes && bytes < PileFindings.RUNTIMES_OWN_BYTES) {
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
