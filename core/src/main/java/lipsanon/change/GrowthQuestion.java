package lipsanon.change;

import java.io.IOException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import lipsanon.holder.Finding;
import lipsanon.holder.Place;
import lipsanon.holder.PlaceTree;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;
import lipsanon.label.Labels;
import lipsanon.label.OwnCode;
import lipsanon.label.SnapshotSummary;
import lipsanon.label.TypeFilter;

/**
 * What grows steadily, where it piles up, and who holds it.
 *
 * <p>The search follows growth down the merged dominator trees: as long as it is concentrated in a
 * place whose own number of objects stays, that is only the way; the first place whose number grows
 * is where it piles up. Each such place is judged by its series, and its holder is sought upwards.
 */
public final class GrowthQuestion {
  private static final int DEEPEST = 60;
  private static final int MOST_FINDINGS = 5;
  private static final int MOST_SET_ASIDE = 6;

  /**
   * Growth below this many bytes over the whole series is noise, unless it is exactly so many
   * objects with every action.
   */
  static final long LEAST_BYTES = 6_000;

  /** An object has so many bytes at least: growth below one object an action is none. */
  private static final int LEAST_OBJECT = 16;

  /** A place is followed if it has this share of the growth of all rising places at the top. */
  private static final double LEAST_SHARE = 0.02;

  /** Growth below this share of the heap does not count if it slows down. */
  private static final double SMALL_SHARE = 0.005;

  /**
   * A steady rise is surer than this if something of the user's own holds it, or if it was seen in
   * more than three snapshots, each higher than the one before.
   */
  private static final double SURE = 0.6;

  private static final String MOVED = "only moved here: there are no more of them in all";

  private final List<Snapshot> snapshots;
  private final TypeFilter mine;
  private final int[] actions;
  private final PlaceTree tree;
  private final List<Pile> piles = new ArrayList<>();
  private long least;
  private long floor;
  private int smallPlaces;
  private long smallBytes;

  /**
   * How to judge.
   *
   * @param mine what counts as the user's own types
   * @param actions how often the action was done between each two snapshots; one number stands for
   *     all intervals, none where that is not known
   */
  public record Options(TypeFilter mine, List<Integer> actions) {
    /** With the same number of actions in each interval, 0 if not known. */
    public Options(TypeFilter mine, int actions) {
      this(mine, actions > 0 ? List.of(actions) : List.of());
    }

    /** The actions of each interval; zeros where they are not known. */
    public int[] between(int snapshots) {
      int[] between = new int[snapshots - 1];
      for (int i = 0; i < between.length; i++) {
        between[i] = actions.isEmpty() ? 0 : actions.get(Math.min(i, actions.size() - 1));
      }
      return between;
    }
  }

  private GrowthQuestion(List<Snapshot> snapshots, Options options) throws IOException {
    this.snapshots = snapshots;
    this.mine = options.mine();
    this.actions = options.between(snapshots.size());
    this.tree = new PlaceTree(snapshots);
  }

  /**
   * A place where something piles up.
   *
   * @param place the objects whose number or own size grows
   * @param bySize whether it is a size that grows, not a number
   */
  record Pile(Place place, boolean bySize) {
    long[] series() {
      return bySize ? place.shallow : place.counts;
    }
  }

  /** Answers for two or more snapshots in time order. */
  public static GrowthAnswer ask(List<Snapshot> snapshots, Options options) throws IOException {
    if (snapshots.size() < 2) {
      throw new IllegalArgumentException("growth takes two or more snapshots");
    }
    return new GrowthQuestion(snapshots, options).answer();
  }

  private GrowthAnswer answer() throws IOException {
    long rising = 0;
    for (Place place : tree.root.children) {
      // compiled code may grow more than all else for a while
      rising += place.is(TypeInfo.Trait.OBSERVER) ? 0 : Math.max(0, Place.growth(place.bytes));
    }
    long all = Arrays.stream(actions).asLongStream().sum();
    least = Math.max(LEAST_BYTES / 4, (long) (rising * LEAST_SHARE));
    floor = all > 0 && actions.length > 1 ? Math.min(least, LEAST_OBJECT * all) : least;
    for (Place place : tree.root.children) {
      search(place, 0);
    }
    joinContents();
    piles.sort(
        Comparator.comparingLong((Pile pile) -> Place.growth(pile.place().bytes)).reversed());
    return judge();
  }

  /** What is in the nodes of one tree is one pile, whatever sorts of nodes it has. */
  private void joinContents() {
    Map<Place, Map<String, Pile>> known = new HashMap<>();
    for (Pile pile : List.copyOf(piles)) {
      Place tree = pile.bySize() ? null : pile.place().treeAbove();
      if (tree != null) {
        Map<String, Pile> contents = known.computeIfAbsent(tree, key -> new HashMap<>());
        Pile first = contents.putIfAbsent(pile.place().type, pile);
        if (first != null) {
          first.place().join(pile.place());
          piles.remove(pile);
        }
      }
    }
  }

  /** Follows growth downwards from a place; whether anything was found there. */
  private boolean search(Place place, int depth) throws IOException {
    long growth = Place.growth(place.bytes);
    if (growth > 0 && growth < floor && depth > 0) {
      smallPlaces++;
      smallBytes += growth;
    }
    if (growth < floor || depth > DEEPEST || place.is(TypeInfo.Trait.OBSERVER)) {
      return false;
    }
    boolean machinery = place.is(TypeInfo.Trait.MACHINERY);
    if (!machinery && place.counts[0] == 0) {
      tree.joinVanished(place);
    }
    if (growth < least) {
      return searchSmall(place, machinery, depth);
    }
    if (!machinery && !place.isNode() && numberGrows(place)) {
      piles.add(new Pile(tree.grown(place), false));
      return true;
    }
    Place chain = place.chain();
    if (chain != null) {
      tree.countChain(chain);
      if (Place.growth(chain.counts) > 0) {
        piles.add(new Pile(chain, false));
        return true;
      }
      // tables in tables: it is what is in them that grows
    }
    if (!machinery && Place.growth(place.shallow) * 2 > growth && place.shallow[0] > 0) {
      if (!elementsGrow(place)) {
        piles.add(new Pile(place, true));
      }
      return true;
    }
    boolean found = searchBelow(place, depth);
    if (!found && !machinery && Place.growth(place.counts) > 0) {
      // it is here that it grew, though not steadily
      piles.add(new Pile(place, false));
      return true;
    }
    return found;
  }

  /** Below the share that is worth following only what grows exactly with the actions counts. */
  private boolean searchSmall(Place place, boolean machinery, int depth) throws IOException {
    if (!machinery && Trend.of(place.counts, actions).exactPerAction() > 0) {
      if (numberGrows(place)) {
        piles.add(new Pile(tree.grown(place), false));
        return true;
      }
    }
    return searchBelow(place, depth);
  }

  /** What is held from several sides may be of quite different owners, who are looked at each. */
  private boolean searchBelow(Place place, int depth) throws IOException {
    List<Place> parts = tree.parts(place);
    boolean found = false;
    for (Place part : parts) {
      found |= search(part, depth);
    }
    for (Place below : parts.isEmpty() ? tree.children(place) : List.<Place>of()) {
      found |= search(below, depth + 1);
    }
    return found;
  }

  /**
   * An array that grows because its elements do is only the way to them, small as they may be;
   * tables grow in steps, and their elements tell the trend better.
   */
  private boolean elementsGrow(Place place) throws IOException {
    Place best = null;
    for (Place below : tree.children(place)) {
      boolean more = best == null || Place.growth(below.bytes) > Place.growth(best.bytes);
      if (more && numberGrows(below)) {
        best = below;
      }
    }
    if (best != null) {
      piles.add(new Pile(tree.grown(best), false));
    }
    return best != null;
  }

  /**
   * Whether the number of a place's objects goes on growing, and explains a good part of its bytes.
   */
  private boolean numberGrows(Place place) {
    long first = place.counts[0];
    long grown = Place.growth(place.counts);
    Trend trend = Trend.of(place.counts, actions);
    boolean goesOn =
        trend.kind() == Trend.Kind.STEADY || trend.kind() == Trend.Kind.TWO_POINTS && grown > 1;
    return goesOn
        && !few(place.counts)
        && (grown * 50 >= first || grown >= 100)
        && grown * average(place) * 4 >= Place.growth(place.bytes);
  }

  /** What one object of a place retains at the end, on average. */
  private static double average(Place place) {
    int last = place.counts.length - 1;
    return place.bytes[last] / (double) Math.max(1, place.counts[last]);
  }

  private Snapshot last() {
    return snapshots.get(snapshots.size() - 1);
  }

  private GrowthAnswer judge() throws IOException {
    List<Finding> findings = new ArrayList<>();
    List<GrowthAnswer.SetAside> aside = new ArrayList<>();
    Set<String> explained = new HashSet<>();
    RelatedFindings related = new RelatedFindings(findings, last(), mine);
    PileReport reports = new PileReport(tree, mine, actions);
    SelfClearing clearing = new SelfClearing(last());
    List<GrowthAnswer.SetAside> soft = new ArrayList<>();
    Map<Pile, Finding> keyed = new LinkedHashMap<>();
    ThreadPools pools = new ThreadPools(last());
    for (Pile pile : piles) {
      if (pile.place().parent.isTop()) {
        pools.look(pile.place());
      }
    }
    for (Pile pile : piles) {
      Trend trend = Trend.of(pile.series(), actions);
      if (findings.size() >= MOST_FINDINGS && aside.size() >= MOST_SET_ASIDE) {
        break;
      }
      String why = whyNot(pile, trend);
      long more = Place.growth(pile.place().counts);
      if (why == null) {
        why = pools.reason(pile.place().type, more);
        if (why != null) {
          explained.add(pile.place().type);
        }
      }
      if (why == null && moved(pile)) {
        why = MOVED;
      }
      if (why != null) {
        if (aside.size() < MOST_SET_ASIDE) {
          aside.add(reports.setAside(pile, why));
        }
        continue;
      }
      Finding finding = reports.finding(pile, trend);
      String pooled = pools.reason(finding.what(), more);
      if (pooled == null && ThreadPools.isOfFewThreads(finding, trend)) {
        pooled = ThreadPools.FEW_THREADS;
      }
      String part = related.why(finding);
      boolean own = related.isOwn(finding.what());
      String clears =
          part == null ? clearing.reason(finding, reports.sample(pile.place()), own) : null;
      if (pile.place().countedByType && isElsewhere(pile, finding)) {
        aside.add(reports.setAside(pile, MOVED));
      } else if (pooled != null) {
        explained.add(finding.what());
        aside.add(reports.setAside(pile, pooled));
      } else if (trend.kind() == Trend.Kind.STEADY
          && finding.confidence() < SURE
          && trend.exactPerAction() == 0
          && small(pile)) {
        explained.add(finding.what());
        aside.add(reports.setAside(pile, "is small, and " + reports.doubt(pile)));
      } else if (part != null) {
        if (part.equals(RelatedFindings.SAME_HOLDER)) {
          related.plainer(finding);
        }
        aside.add(reports.setAside(pile, part));
      } else if (SelfClearing.SOFT.equals(clears)) {
        explained.add(finding.what());
        soft.add(reports.setAside(pile, clears));
      } else if (clears != null) {
        keyed.put(pile, finding);
      } else if (findings.size() < MOST_FINDINGS) {
        findings.add(finding);
      }
    }
    aside.addAll(related.ofThreads());
    aside.addAll(LoadedAssemblies.told(findings));
    aside.addAll(0, soft);
    for (Map.Entry<Pile, Finding> one : keyed.entrySet()) {
      if (!findings.isEmpty() || !soft.isEmpty()) {
        aside.add(reports.setAside(one.getKey(), SelfClearing.KEYED));
      } else {
        findings.add(one.getValue());
      }
    }
    ScatteredTypes scattered = new ScatteredTypes(tree, mine, actions);
    for (int i = 0; i < findings.size(); i++) {
      Finding part = findings.get(i);
      Place all = scattered.whole(part);
      Pile pile = all == null ? null : new Pile(all, false);
      Finding whole = pile == null ? part : reports.finding(pile, Trend.of(pile.series(), actions));
      findings.set(i, whole.heldBy().equals(part.heldBy()) ? whole : part);
    }
    if (findings.isEmpty()) {
      for (Place place : scattered.places(explained)) {
        Pile pile = new Pile(place, false);
        Finding finding = reports.finding(pile, Trend.of(pile.series(), actions));
        if (clearing.reason(finding, reports.sample(place), true) == null) {
          findings.add(finding);
        } else {
          aside.add(reports.setAside(pile, SelfClearing.SOFT));
        }
      }
    }
    if (smallPlaces > 0) {
      aside.add(
          new GrowthAnswer.SetAside(
              smallPlaces + " places that grew by less than " + Labels.bytes(floor) + " each",
              "",
              List.of(0L, smallBytes),
              "are too small to be told from chance"));
    }
    List<UnkeptTypes.Rising> unkept = UnkeptTypes.of(snapshots, mine, actions);
    List<Finding> ofClasses = ClassValues.of(snapshots, mine, actions, unkept);
    findings.addAll(ofClasses);
    if (findings.isEmpty()) {
      findings.addAll(LoadedClasses.of(snapshots, mine, actions));
    }
    for (UnkeptTypes.Rising rising : unkept) {
      if (ofClasses.stream().noneMatch(finding -> finding.what().equals(rising.type()))) {
        aside.add(0, rising.setAside());
      }
    }
    findings.sort(
        Comparator.comparingDouble(
                (Finding f) -> f.confidence() * Math.max(1, RelatedFindings.grownBytes(f)))
            .reversed());
    return answer(findings, aside);
  }

  private boolean moved(Pile pile) {
    // of the runtime's types others come and go too often
    long[] total = pile.place().library ? null : tree.totals().of(pile.place().type);
    long grown = Place.growth(pile.place().counts);
    return !pile.bySize() && total != null && grown > 0 && Place.growth(total) * 10 <= grown;
  }

  /**
   * Whether what was counted by its type did not grow itself: there are no more of what it is for,
   * or another place has all that is more of the type.
   */
  private boolean isElsewhere(Pile pile, Finding finding) {
    long grown = Place.growth(pile.place().counts);
    long[] content = tree.totals().of(finding.what());
    long[] total = tree.totals().of(pile.place().type);
    long others = 0;
    for (Pile other : piles) {
      boolean alike = other != pile && !other.bySize();
      if (alike && !other.place().countedByType && other.place().type.equals(pile.place().type)) {
        others += Math.max(0, Place.growth(other.place().counts));
      }
    }
    return content != null && Place.growth(content) * 10 <= grown
        || total != null && (Place.growth(total) - others) * 10 <= grown;
  }

  private String whyNot(Pile pile, Trend trend) {
    if (trend.noGrowth() != null) {
      return trend.noGrowth();
    }
    if (small(pile, trend) || !pile.bySize() && few(pile.place().counts)) {
      return GrowthAnswer.TOO_SMALL;
    }
    if (trend.slows() && trend.exactPerAction() == 0 && small(pile)) {
      return "slows down, and is small: a cache that is nearly full";
    }
    return isStep(pile) ? "grew once, in one step: a table of the runtime" : null;
  }

  /** Whether a table that is a root itself has grown between two of several snapshots only. */
  private boolean isStep(Pile pile) {
    long[] series = pile.series();
    int rises = 0;
    for (int i = 1; i < series.length; i++) {
      rises += series[i] > series[i - 1] ? 1 : 0;
    }
    return pile.bySize()
        && series.length > 3
        && rises == 1
        && tree.root.children.contains(pile.place());
  }

  private static boolean small(Pile pile, Trend trend) {
    return trend.exactPerAction() == 0 && Place.growth(pile.place().bytes) < LEAST_BYTES;
  }

  /** Less than one more from snapshot to snapshot: that a single thing came piles nothing up. */
  private static boolean few(long[] counts) {
    int rounds = counts.length - 1;
    return rounds > 1 && Place.growth(counts) < rounds;
  }

  private boolean small(Pile pile) {
    return Place.growth(pile.place().bytes) < SMALL_SHARE * tree.root.bytes[0];
  }

  private GrowthAnswer answer(List<Finding> findings, List<GrowthAnswer.SetAside> aside)
      throws IOException {
    boolean sure = findings.stream().anyMatch(finding -> finding.confidence() >= 0.5);
    String verdict = findings.isEmpty() ? "none" : sure ? "growth" : "unclear";
    String sentence =
        switch (verdict) {
          case "none" -> "No steady growth: nothing piles up from snapshot to snapshot.";
          case "growth" -> findings.get(0).sentence();
          default ->
              findings.get(0).sentence()
                  + (snapshots.size() == 2
                      ? " With two snapshots no trend can be told: take a third, or give --actions."
                      : " Whether it goes on is not sure: one much longer round would tell.");
        };
    return new GrowthAnswer(
        snapshots.stream().map(SnapshotSummary::of).toList(),
        Arrays.stream(actions).max().orElse(0) == 0 ? 0 : actions[0],
        Arrays.stream(actions).boxed().toList(),
        verdict,
        sentence,
        Arrays.stream(tree.root.bytes).boxed().toList(),
        findings,
        aside,
        Containers.grown(snapshots, mine),
        DetachedElements.of(snapshots, mine),
        List.of(),
        List.of(),
        mine.mine().isEmpty() ? OwnCode.told(last()) : "",
        List.of(),
        List.of());
  }
}
