package lipsanon.question;

import java.io.IOException;
import java.util.ArrayList;
import java.util.Collections;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.TreeMap;
import lipsanon.array.IntList;
import lipsanon.holder.Finding;
import lipsanon.holder.HolderPath;
import lipsanon.holder.HolderSearch;
import lipsanon.holder.Holding;
import lipsanon.holder.PiledType;
import lipsanon.index.Pile;
import lipsanon.index.RootInfo;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;
import lipsanon.label.Families;
import lipsanon.label.Labels;
import lipsanon.label.NearestPaths;
import lipsanon.label.Ownership;
import lipsanon.label.Step;
import lipsanon.label.Threads;
import lipsanon.label.TypeFilter;

/**
 * What looks wrong in a single snapshot: single places that retain much through very many similar
 * objects, threads that keep much, very long chains, classes loaded several times over. Two scans
 * over columns; nothing is opened but what retains much.
 */
final class SurveyFindings {
  private static final double LARGE = 0.1;

  /** Less of the heap in one type, in many places, is what programs are for. */
  private static final double HALF = 0.5;

  private static final int MANY = 100;
  private static final int MOST = 4;
  private static final String FINALIZER_THREAD = "\"Finalizer\"";
  private static final String NO_TREND = "one snapshot cannot tell whether they go on piling up";

  /** What explains so much of a type needs no second finding. */
  private static final double EXPLAINED = 0.5;

  private final Snapshot snapshot;
  private final HolderSearch search;
  private final HolderPath paths;
  private final PiledType piled;
  private final TypeFilter mine;
  private final double heap;
  private final List<Finding> findings = new ArrayList<>();

  private SurveyFindings(Snapshot snapshot, TypeFilter mine) {
    this.snapshot = snapshot;
    this.mine = mine;
    Ownership ownership = new Ownership(snapshot, mine);
    this.search = new HolderSearch(snapshot, ownership);
    this.paths = new HolderPath(snapshot);
    this.piled = new PiledType(snapshot, ownership);
    this.heap = Math.max(1, snapshot.totals().retainedBytes());
  }

  static List<Finding> of(Snapshot snapshot, TypeFilter mine) throws IOException {
    SurveyFindings search = new SurveyFindings(snapshot, mine);
    search.piles();
    search.chains();
    search.finalizers();
    search.rootPile();
    search.ownPile();
    search.threads();
    search.loaders();
    search.findings.sort(Comparator.comparingDouble(Finding::confidence).reversed());
    return List.copyOf(search.findings.subList(0, Math.min(MOST, search.findings.size())));
  }

  private void piles() throws IOException {
    for (Pile pile : snapshot.piles()) {
      if (pile.count() >= MANY && pile.bytes() >= LARGE * heap) {
        pile(pile);
      }
    }
  }

  private void pile(Pile pile) throws IOException {
    int container = pile.holder();
    if (ofObserver(container)) {
      return;
    }
    TypeInfo info = snapshot.types().get(pile.type());
    IntList some = new IntList();
    some.add(pile.example());
    String what = piled.of(info.name(), some, false);
    long count = info.passage() ? counted(what, pile) : pile.count();
    Holding holding = search.searchBelow(container, count, pile.bytes());
    double share = pile.bytes() / heap;
    String sentence =
        String.format(
            Locale.ROOT,
            "%,d %s%s retain %s (%.0f %% of the heap), %s %s.",
            count,
            what,
            contents(what, pile),
            Labels.bytes(pile.bytes()),
            share * 100,
            subscribed(container, holding) ? "still subscribed to" : "held by",
            holding.text());
    add(
        what,
        holding,
        container,
        count,
        pile.bytes(),
        Math.min(0.45, 0.15 + share / 2),
        List.of("one place holds very many similar objects", NO_TREND),
        sentence,
        paths.to(pile.example(), holding.places().get(0)));
  }

  /**
   * How many objects of the piled type a container holds: entries of a table that share a place
   * hang on each other, and only the first of them on the table.
   */
  private long counted(String what, Pile pile) {
    int type = typeNamed(what);
    boolean more = type >= 0 && snapshot.counts(type).count() > pile.count();
    return more ? Math.max(pile.count(), below(type, pile)) : pile.count();
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

  /** One of the user's own types that piles up in many places, none of which stands out. */
  private void ownPile() throws IOException {
    int type = OwnPile.largest(snapshot, mine, MANY, HALF * heap);
    if (type < 0 || isExplained(snapshot.counts(type).retainedBytes())) {
      return;
    }
    OwnPile pile = OwnPile.of(snapshot, type);
    if (pile.heads().isEmpty() || ofObserver(pile.heads().get(0))) {
      return;
    }
    Holding holding = search.search(pile.heads());
    if (holding.places().isEmpty() || holding.freedShare() < EXPLAINED) {
      return;
    }
    double share = pile.bytes() / heap;
    String what = Families.of(pile.type());
    add(
        what,
        holding,
        holding.container(),
        pile.count(),
        pile.bytes(),
        Math.min(0.4, 0.12 + share / 2),
        List.of("very many objects of one of your types retain much together", NO_TREND),
        String.format(
            Locale.ROOT,
            "%,d %s retain %s together (%.0f %% of the heap), held by %s.",
            pile.count(),
            what,
            Labels.bytes(pile.bytes()),
            share * 100,
            holding.text()),
        paths.to(pile.heads().get(pile.heads().size() / 2), holding.places().get(0)));
  }

  /** Very many handles or the like that were not given back. */
  private void rootPile() throws IOException {
    RootPile pile = RootPile.largest(snapshot);
    if (pile == null
        || pile.count < MANY
        || pile.bytes < LARGE * heap
        || ofObserver(pile.example)
        || isExplained(pile.bytes)) {
      return;
    }
    double share = pile.bytes / heap;
    String what = Families.of(snapshot.types().get(pile.type).name());
    String held = "a root of its own (" + pile.kind + ")";
    add(
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

  /** Whether what was found already says where most of some bytes are. */
  private boolean isExplained(long bytes) {
    return findings.stream().anyMatch(finding -> finding.bytes().get(0) >= EXPLAINED * bytes);
  }

  /** Objects that wait for their finalizers, and what the thread is at that runs these. */
  private void finalizers() throws IOException {
    long bytes = snapshot.totals().finalizerBytes();
    if (bytes < LARGE * heap) {
      return;
    }
    Map<String, Long> byType = new TreeMap<>();
    IntList waiting = new IntList();
    IntList thread = new IntList();
    for (RootInfo root : snapshot.roots()) {
      if (root.kind().equals(RootInfo.WAITING)) {
        waiting.add(root.node());
        String type = Families.of(snapshot.typeName(root.node()));
        byType.merge(type, snapshot.retainedBytes(root.node()), Long::sum);
      } else if (root.kind().equals("thread")
          && Labels.of(snapshot, root.node()).equals(FINALIZER_THREAD)) {
        thread.add(root.node());
      }
    }
    if (waiting.isEmpty()) {
      return;
    }
    String what = Collections.max(byType.entrySet(), Map.Entry.comparingByValue()).getKey();
    String runs = thread.isEmpty() ? "" : Threads.runs(snapshot, thread);
    boolean method = runs.contains("(");
    double share = bytes / heap;
    add(
        what,
        Holding.unknown("the queue of the finalizer thread"),
        -1,
        waiting.size(),
        bytes,
        Math.min(0.45, 0.15 + share / 2),
        List.of("finalizers run one after another: a slow or stuck one holds up all others"),
        String.format(
            Locale.ROOT,
            "%,d objects, most of them %s, only wait for their finalizers and retain %s (%.0f %% of"
                + " the heap)%s.",
            waiting.size(),
            what,
            Labels.bytes(bytes),
            share * 100,
            method ? "; the finalizer thread is in " + runs : ""),
        new NearestPaths(snapshot).to(waiting.get(waiting.size() / 2)));
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

  private void add(
      String what,
      Holding holding,
      int container,
      long count,
      long bytes,
      double confidence,
      List<String> reasons,
      String sentence,
      List<Step> steps) {
    findings.add(
        new Finding(
            what,
            holding.text(),
            holding.inside(),
            container < 0 ? "" : snapshot.typeName(container),
            container < 0 ? "" : snapshot.id(container),
            steps.isEmpty() ? "" : steps.get(0).via(),
            0,
            0,
            List.of(count),
            List.of(bytes),
            confidence,
            reasons,
            sentence,
            steps,
            Finding.holders(snapshot, holding, count),
            holding.freedShare()));
  }

  private void chains() throws IOException {
    LongChain chain = LongChain.of(snapshot);
    if (chain == null) {
      return;
    }
    Holding holding = search.searchOne(chain.first(snapshot));
    long bytes = chain.begin().retainedBytes();
    add(
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
            chain.link().type(),
            chain.carried(snapshot, mine),
            chain.link().via(),
            Labels.bytes(bytes),
            holding.text()),
        chain.steps());
  }

  private void threads() throws IOException {
    for (RootInfo root : snapshot.roots()) {
      long bytes = snapshot.retainedBytes(root.node());
      if (root.kind().equals("thread") && bytes >= 2 * LARGE * heap) {
        String name = Labels.of(snapshot, root.node());
        add(
            snapshot.typeName(root.node()),
            search.searchOne(root.node()),
            -1,
            1,
            bytes,
            0.12,
            List.of("a thread keeps its local variables and thread locals as long as it runs"),
            String.format(
                Locale.ROOT,
                "Thread %s (%s) keeps %s (%.0f %% of the heap) alone.",
                name,
                snapshot.id(root.node()),
                Labels.bytes(bytes),
                100 * bytes / heap),
            new NearestPaths(snapshot).to(root.node()));
      }
    }
  }

  /** Classes of the user's that several loaders have, and who keeps these loaders. */
  private void loaders() throws IOException {
    Map<String, List<TypeInfo>> copies = new TreeMap<>();
    for (TypeInfo type : snapshot.types()) {
      if (mine.isMine(type) && type.classNode() >= 0 && !type.array()) {
        copies.computeIfAbsent(type.name(), key -> new ArrayList<>()).add(type);
      }
    }
    List<TypeInfo> most = List.of();
    int several = 0;
    for (List<TypeInfo> same : copies.values()) {
      several += same.size() > 1 ? 1 : 0;
      most = same.size() > Math.max(2, most.size()) ? same : most;
    }
    if (most.isEmpty()) {
      return;
    }
    IntList loaders = new IntList();
    for (TypeInfo type : most) {
      int loader = type.loader().isEmpty() ? -1 : snapshot.nodeOf(type.loader());
      if (loader >= 0) {
        loaders.add(loader);
      }
    }
    Holding holding =
        loaders.size() < 2 ? Holding.unknown("class loaders") : search.search(loaders);
    String held = holding.places().isEmpty() ? "no single owner" : holding.text();
    String loaderType = loaders.isEmpty() ? "" : snapshot.typeName(loaders.get(0));
    add(
        most.get(0).name(),
        holding.places().isEmpty() ? Holding.unknown(held) : holding,
        -1,
        most.size(),
        0,
        0.35,
        List.of("class loaders of earlier loads seem to be kept"),
        String.format(
            Locale.ROOT,
            "%s is loaded %,d times by different class loaders%s, held by %s; loaded more than once"
                + " in all: %,d of your classes.",
            most.get(0).name(),
            most.size(),
            loaderType.isEmpty() ? "" : " (" + loaderType + ")",
            held,
            several),
        loaders.isEmpty() || holding.places().isEmpty()
            ? List.of()
            : paths.to(loaders.get(0), holding.places().get(0)));
  }
}
