package lipsanon.holder;

import java.io.IOException;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import lipsanon.array.IntList;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;
import lipsanon.index.Via;
import lipsanon.label.Links;
import lipsanon.label.Ownership;

/**
 * Finds what holds a set of objects, and tests it. The containers of the set come from its
 * dominator where all its objects are held through that directly, else from their referring
 * objects, merged level by level: a place that exists once per object is only the way. Each
 * container, pair and triple of them is tested by the search that its emptying would leave; the
 * smallest that frees nine tenths is named, by climbing from it to somebody's own field. One
 * thread.
 */
public final class HolderSearch {
  /** A holder frees so much of the set at least. */
  public static final double ENOUGH = 0.9;

  /** Objects that are looked at. */
  public static final int MOST_ASKED = 500;

  static final int NAMED = 16;

  /** So few objects may each have a holder of their own, if these are alike. */
  private static final int MOST_ALIKE = 8;

  /** Of an element of a list, in bytes: a reference, and as much for others and what is empty. */
  private static final long LARGEST_PLACE = 32;

  private final Snapshot snapshot;
  private final Links links;
  private final Climb climb;
  private final RootHolders rootHolders;
  private final HolderGroups groups;
  private final SeveralHolders several;
  private final OwnLists ownLists;
  private final PageElements elements;

  public HolderSearch(Snapshot snapshot, Ownership ownership) {
    this.snapshot = snapshot;
    this.links = new Links(snapshot);
    this.climb = new Climb(snapshot, links, ownership);
    this.groups = new HolderGroups(snapshot, links, climb, ownership);
    this.several = new SeveralHolders(snapshot, links, climb, groups);
    this.ownLists = new OwnLists(snapshot, climb);
    this.rootHolders = new RootHolders(snapshot, links, ownership);
    this.elements = new PageElements(snapshot);
  }

  /** Searches for some objects that are not dominated by each other; of very many, for a part. */
  public Holding search(IntList members) throws IOException {
    return search(members, MOST_ASKED, 1);
  }

  /**
   * The same, from a smaller part where less certainty will do.
   *
   * @param atMost objects that are looked at
   * @param share how much of the set is meant: others of their kind may have been there before
   */
  public Holding search(IntList members, int atMost, double share) throws IOException {
    double enough = ENOUGH * share;
    IntList asked = sample(members, atMost);
    Holding roots = rootHolders.roots(asked, members);
    if (roots != null) {
      OwnLists.Found own =
          roots.roots() && asked.size() > 1
              ? ownLists.of(groups.above(asked, -1, true), asked, enough, Ownership.Whose.OWN)
              : null;
      return own == null ? roots : roots.with(own);
    }
    if (asked.size() == 1) {
      return of(single(asked.get(0)), asked, members, snapshot.dominator(asked.get(0)));
    }
    int near = links.commonDominator(asked, enough);
    if (near >= 0 && snapshot.types().get(snapshot.type(near)).is(TypeInfo.Trait.MACHINERY)) {
      // what is drawn hangs on its drawing too
      Holding inPage = elements.around(asked, members, enough);
      if (inPage != null) {
        return inPage;
      }
    }
    if (near >= 0 && isDirect(asked, near, enough) && canBeEmptied(asked, near)) {
      return of(emptied(near), asked, members, near);
    }
    int top = links.commonDominator(asked, 1);
    List<HolderGroup> above = groups.above(asked, top, false);
    Holding together = several.of(above, asked, members, top, enough);
    boolean bare = together != null && hasBareRoot(together);
    // what draws a page has its elements too, and lets go of them as they are taken out
    boolean cut = together != null && !bare;
    boolean drawn = cut && elements.areParts(together.places());
    Holding inPage = cut && !drawn ? null : elements.around(asked, members, enough);
    if (inPage != null || cut) {
      return inPage != null ? inPage : together;
    }
    // few threads have many values of one variable: who has the variable lets go
    Holding keyed =
        together != null && RootHolders.areThreads(together) ? keyed(asked, members, enough) : null;
    if (keyed != null) {
      return keyed;
    }
    if (together != null && asked.size() > MOST_ALIKE) {
      return together;
    }
    if (top >= 0 && canBeEmptied(asked, top)) {
      return of(emptied(top), asked, members, top);
    }
    OwnLists.Found own =
        together == null ? ownLists.of(above, asked, enough, Ownership.Whose.OWN) : null;
    if (own != null) {
      return Holding.amongOthers(own, members.size());
    }
    Holding threads = rootHolders.threads(asked, members);
    if (threads != null) {
      keyed = keyed(asked, members, enough);
      return keyed == null ? threads : keyed;
    }
    Holding alike = alike(asked, members);
    if (alike != null || together != null) {
      return alike != null ? alike : together;
    }
    Holding inOwn =
        asked.size() > MOST_ALIKE ? rootHolders.nearRoots(asked, members, enough) : null;
    if (inOwn != null) {
      return inOwn;
    }
    Holding listed = listed(asked, members);
    if (listed != null) {
      return listed;
    }
    OwnLists.Found library =
        asked.size() > MOST_ALIKE
            ? ownLists.of(above, asked, enough, Ownership.Whose.LIBRARY)
            : null;
    if (library != null) {
      return Holding.amongOthers(library, members.size());
    }
    return new Holding(
        List.of(), 0, 0, members.size(), List.of(), -1, Ownership.Whose.RUNTIME, false);
  }

  /** Whether what holds objects is a container: a scope is none, nor is who has loaded classes. */
  private boolean canBeEmptied(IntList asked, int holder) throws IOException {
    return !HolderGroups.isScope(snapshot, holder) && !isOnlyLoaded(asked, holder);
  }

  /** Whether objects, which are no classes themselves, have in common that classes hold them. */
  private boolean isOnlyLoaded(IntList asked, int holder) throws IOException {
    return isListOfClasses(holder) && !snapshot.classNodes().contains(asked.get(0));
  }

  /**
   * Whether an object holds classes above all, as a class loader does: what it dominates hangs on
   * variables of several of them, and nobody could empty it.
   */
  public boolean isListOfClasses(int node) throws IOException {
    // what is larger than a list of all of them is not gone through
    if (snapshot.shallowBytes(node) > LARGEST_PLACE * snapshot.classNodes().size()) {
      return false;
    }
    int[] seen = new int[2];
    snapshot
        .objects()
        .references(
            node,
            reference -> {
              if (reference.via().kind() != Via.Kind.INTERNAL) {
                seen[snapshot.classNodes().contains(reference.target()) ? 1 : 0]++;
              }
            });
    return seen[1] > seen[0];
  }

  /**
   * What a browser does for a page, which has all of them in one list, whoever refers to them
   * besides; null if there is no such list.
   */
  private Holding listed(IntList asked, IntList members) throws IOException {
    Map<Integer, Integer> counts = new HashMap<>();
    for (int i = 0; i < asked.size(); i++) {
      Set<Integer> from = new HashSet<>();
      links.into(asked.get(i), Climb.MOST_LINKS).forEach(link -> from.add(link.from()));
      from.forEach(list -> counts.merge(list, 1, Integer::sum));
    }
    for (Map.Entry<Integer, Integer> entry : counts.entrySet()) {
      int list = entry.getKey();
      if (asked.size() > 1 && entry.getValue() >= ENOUGH * asked.size()) {
        Climb.Named named = climb.from(list).names().get(0);
        Via via = named.from() < 0 ? null : links.via(named.from(), named.target());
        if (via != null && via.kind() == Via.Kind.SERVICE) {
          Holding.Place place =
              new Holding.Place(named.text(), named.from(), named.target(), "", 0, 0);
          return new Holding(
              List.of(place), 0, 0, members.size(), List.of(), list, named.whose(), false);
        }
      }
    }
    return null;
  }

  /** Whether a place is a root of the runtime, which tells nobody where to look. */
  private boolean hasBareRoot(Holding holding) throws IOException {
    for (Holding.Place place : holding.places()) {
      boolean root = place.node() < 0;
      if (root && climb.from(place.target()).names().get(0).whose() == Ownership.Whose.RUNTIME) {
        return true;
      }
    }
    return false;
  }

  /** Who has the variable by which threads keep a set; null if they do not, or by several. */
  private Holding keyed(IntList asked, IntList members, double enough) throws IOException {
    Climb.Named key = climb.ofKey(asked, enough * asked.size());
    Holding threads = key == null ? null : rootHolders.threads(asked, members);
    return threads == null ? null : byKey(threads, key);
  }

  /** What threads keep by a variable that each has a value of: who has the variable lets go. */
  private static Holding byKey(Holding threads, Climb.Named key) {
    Holding.Place of = threads.places().get(0);
    Holding.Place place =
        new Holding.Place(
            key.text(), key.from(), key.target(), key.text(), of.freed(), of.freedBytes());
    return new Holding(
        List.of(place),
        threads.freed(),
        threads.freedBytes(),
        threads.asked(),
        List.of(),
        -1,
        key.whose(),
        false);
  }

  /**
   * A few objects, each held by another one in the same way: what follows on them is much, but no
   * container has more than one. A runtime may have a queue for each processor.
   */
  private Holding alike(IntList asked, IntList members) throws IOException {
    if (asked.size() > MOST_ALIKE) {
      return null;
    }
    Climb.Found first = climb.from(asked.get(0));
    Climb.Named named = first.names().get(0);
    for (int i = 0; i < asked.size(); i++) {
      int node = asked.get(i);
      boolean same = climb.from(node).names().get(0).text().equals(named.text());
      // a single reference, so that its cut frees the object and all that hangs on it
      if (!same || named.from() < 0 || !climb.isAlone(node)) {
        return null;
      }
    }
    long bytes = rootHolders.bytes(members);
    int size = members.size();
    Via via = links.via(named.from(), named.target());
    boolean service = via != null && via.kind() == Via.Kind.SERVICE;
    String text = named.text() + (service ? "" : " in " + size + " objects");
    Holding.Place place = new Holding.Place(text, named.from(), named.target(), text, size, bytes);
    return new Holding(List.of(place), size, bytes, size, first.inside(), -1, named.whose(), false);
  }

  /** The place that holds a single object or collection. */
  public Holding searchOne(int node) throws IOException {
    IntList one = new IntList();
    one.add(node);
    return search(one);
  }

  /**
   * What holds a container whose contents are a set.
   *
   * @param count objects in it
   * @param bytes what these retain
   */
  public Holding searchBelow(int container, long count, long bytes) throws IOException {
    Candidate candidate = emptied(container);
    IntList one = new IntList();
    one.add(container);
    Holding holding = of(candidate, one, one, container);
    return new Holding(
        holding.places(), count, bytes, count, holding.inside(), container, holding.whose(), false);
  }

  private static IntList sample(IntList members, int atMost) {
    if (members.size() <= atMost) {
      return members;
    }
    IntList some = new IntList();
    for (int i = 0; i < atMost; i++) {
      some.add(members.get((int) ((long) i * members.size() / atMost)));
    }
    return some;
  }

  /** Whether most objects hang on one by references all the way, each dominating the next. */
  private boolean isDirect(IntList asked, int top, double enough) throws IOException {
    int direct = 0;
    int looked = 0;
    int every = Math.max(1, asked.size() / NAMED);
    for (int i = 0; i < asked.size(); i += every) {
      looked++;
      int at = asked.get(i);
      while (at != top && at >= 0) {
        at = links.fromDominator(at) == null ? -1 : snapshot.dominator(at);
      }
      direct += at == top ? 1 : 0;
    }
    // what is not below it at all was counted before
    return direct >= ENOUGH * enough * looked;
  }

  /** What a search found before it is tested. */
  private record Candidate(Climb.Found found, int container, boolean emptied) {}

  private Candidate single(int node) throws IOException {
    return new Candidate(climb.from(node), node, false);
  }

  private Candidate emptied(int container) throws IOException {
    return new Candidate(climb.ofContents(container), container, true);
  }

  /** All objects of the set are below the candidate's container, which dominates them. */
  private Holding of(Candidate candidate, IntList asked, IntList members, int top)
      throws IOException {
    List<Holding.Place> places = new ArrayList<>();
    for (Climb.Named named : candidate.found.names()) {
      int target = named.target();
      boolean dominates =
          target == asked.get(0) || links.dominates(target, asked.get(0)) || target == top;
      boolean cut = named.alone() && dominates;
      // where others refer to the same container, it is its contents that are let go
      long freed =
          cut
              ? snapshot.retainedBytes(target)
              : snapshot.retainedBytes(candidate.container)
                  - (candidate.emptied ? snapshot.shallowBytes(candidate.container) : 0);
      places.add(
          new Holding.Place(
              named.text(),
              named.from(),
              target,
              cut ? named.text() : "the contents of " + snapshot.id(candidate.container),
              members.size(),
              freed));
    }
    long freedMembers = 0;
    long freedBytes = 0;
    // above a single object may be the super-root, which is none
    Dominated below = asked.size() == 1 ? null : dominated(top);
    for (int i = 0; i < asked.size(); i++) {
      boolean freed = below == null || below.test(asked.get(i));
      freedMembers += freed ? 1 : 0;
      freedBytes += freed ? snapshot.retainedBytes(asked.get(i)) : 0;
    }
    return new Holding(
        places,
        scaled(freedMembers, asked, members),
        scaled(freedBytes, asked, members),
        members.size(),
        candidate.found.inside(),
        candidate.container,
        candidate.found.names().get(0).whose(),
        false);
  }

  private Dominated dominated(int top) {
    BitSet one = new BitSet();
    one.set(top);
    return new Dominated(snapshot, one);
  }

  /** What was found of the asked objects, for all. */
  static long scaled(long value, IntList asked, IntList members) {
    return asked.size() == members.size()
        ? value
        : Math.round(value * (members.size() / (double) asked.size()));
  }
}
