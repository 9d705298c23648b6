package lipsanon.change;

import java.io.IOException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import lipsanon.array.IntList;
import lipsanon.holder.Finding;
import lipsanon.holder.HolderSearch;
import lipsanon.holder.Holding;
import lipsanon.holder.PiledType;
import lipsanon.holder.Place;
import lipsanon.holder.PlaceTree;
import lipsanon.index.Snapshot;
import lipsanon.label.Families;
import lipsanon.label.Labels;
import lipsanon.label.Ownership;
import lipsanon.label.TypeFilter;

/** Says of a place where something piles up: what it is, who holds it, how sure that is. */
final class PileReport {
  private static final int SAMPLE = 60;
  private static final int GLANCE = 60;
  private static final int FEW = 16;

  /** Of what was there before the series hardly more than that may be held elsewhere. */
  private static final double LEAST_SHARE = 0.6;

  /** A reason: how far a search for a holder has come. */
  static final String NOTHING_OWN = "nothing of your own was found above it";

  /** A reason: what holds. */
  static final String OWN_HOLDER = "the holder is your own";

  /** The same where nothing could let go. */
  static final String ROOTS = "roots hold them, each its own";

  private final PlaceTree tree;
  private final Snapshot last;
  private final int lastIndex;
  private final HolderSearch search;

  private final Examples examples;
  private final PiledType piled;
  private final CacheSigns caches;
  private final Newcomers newcomers;
  private final GrownPart grown;

  /** By place, once asked for: those objects that are looked at. */
  private final Map<Place, IntList> heads = new IdentityHashMap<>();

  private final int[] actions;
  private final long allActions;

  PileReport(PlaceTree tree, TypeFilter mine, int[] actions) throws IOException {
    this.tree = tree;
    this.actions = actions;
    this.allActions = Arrays.stream(actions).asLongStream().sum();
    this.lastIndex = tree.snapshots().size() - 1;
    this.last = tree.snapshots().get(lastIndex);
    Ownership ownership = new Ownership(last, mine);
    this.search = new HolderSearch(last, ownership);
    this.examples = new Examples(last);
    this.piled = new PiledType(last, ownership);
    this.caches = new CacheSigns(last);
    this.newcomers = new Newcomers(tree.snapshots());
    this.grown = new GrownPart(tree.snapshots(), ownership, mine);
  }

  GrowthAnswer.SetAside setAside(GrowthQuestion.Pile pile, String why) throws IOException {
    Place place = pile.place();
    IntList heads = held(place);
    // what is no finding need not be proved
    Holding holding =
        place.holding != null || heads.isEmpty()
            ? holding(place)
            : search.search(heads, GLANCE, share(place));
    return new GrowthAnswer.SetAside(
        what(pile, holding), holding.owner(), series(place.bytes), why);
  }

  /** What is known of a place so far: its holder is sought once. */
  Holding holding(Place place) throws IOException {
    if (place.holding == null) {
      IntList heads = weighty(held(place));
      place.holding =
          heads.isEmpty()
              ? new Holding(List.of(), 0, 0, 0, List.of(), -1, Ownership.Whose.RUNTIME, false)
              : search.search(heads, HolderSearch.MOST_ASKED, share(place));
      Holding ofPart = ofGrownPart(place);
      place.holding = ofPart == null ? place.holding : ofPart;
    }
    return place.holding;
  }

  /**
   * Who holds what came where that is few of many, which others may hold: from then on only the
   * objects in that place are looked at.
   */
  private Holding ofGrownPart(Place place) throws IOException {
    IntList all = place.heads.get(lastIndex);
    if (place.holding.roots() || lastIndex == 0 || held(place) != all) {
      return null;
    }
    IntList part = grown.of(place.heads.get(0), all);
    if (part == null) {
      return null;
    }
    double share = Math.min(1, Place.growth(place.counts) / (double) part.size());
    Holding found = search.search(part, HolderSearch.MOST_ASKED, Math.max(LEAST_SHARE, share));
    if (found.places().isEmpty()) {
      return null;
    }
    heads.put(place, part);
    return found;
  }

  /** What is in the nodes of a tree is held by what holds the tree, however deep it stands. */
  private IntList held(Place place) {
    Place tree = place.treeAbove();
    IntList heads = heads(place);
    return tree != null && tree.heads.get(lastIndex).size() < heads.size()
        ? tree.heads.get(lastIndex)
        : heads;
  }

  /** Of a few objects with others hanging on them, those that nearly all hangs on. */
  private IntList weighty(IntList heads) {
    if (heads.size() < 2 || heads.size() > FEW) {
      return heads;
    }
    List<Integer> sorted = new ArrayList<>();
    long all = 0;
    for (int i = 0; i < heads.size(); i++) {
      sorted.add(heads.get(i));
      all += last.retainedBytes(heads.get(i));
    }
    sorted.sort(Comparator.comparingLong((Integer node) -> -last.retainedBytes(node)));
    IntList some = new IntList();
    long sum = 0;
    for (int node : sorted) {
      if (sum >= HolderSearch.ENOUGH * all) {
        break;
      }
      some.add(node);
      sum += last.retainedBytes(node);
    }
    return some;
  }

  /** The objects of a place in the last snapshot; those that came, where that is known. */
  private IntList heads(Place place) {
    IntList known = heads.get(place);
    if (known == null) {
      IntList all = place.heads.get(lastIndex);
      IntList came = newcomers.of(all, Place.growth(place.counts));
      known = came == null ? all : came;
      heads.put(place, known);
    }
    return known;
  }

  /** Which part of a place's objects is looked at. */
  private double looked(Place place) {
    return heads(place).size() / (double) Math.max(1, place.heads.get(lastIndex).size());
  }

  /** How much of the objects that are looked at came during the series. */
  private double share(Place place) {
    if (heads(place) != place.heads.get(lastIndex)) {
      return 1;
    }
    long last = Math.max(1, place.counts[lastIndex]);
    return Math.max(LEAST_SHARE, Math.min(1, Place.growth(place.counts) / (double) last));
  }

  private static List<Long> series(long[] values) {
    return Arrays.stream(values).boxed().toList();
  }

  /** Evenly spaced objects of a place, those held by their like included. */
  IntList sample(Place place) {
    IntList all = new IntList();
    IntList heads = heads(place);
    for (int i = heads.size() - 1;
        i >= 0 && all.size() < SAMPLE;
        i -= Math.max(1, heads.size() / SAMPLE)) {
      all.add(heads.get(i));
    }
    // links of a chain hang below one head
    for (int i = 0; i < all.size() && all.size() < SAMPLE; i++) {
      int node = all.get(i);
      int count = tree.below(lastIndex).count(node);
      for (int k = 0; k < Math.min(count, SAMPLE) && all.size() < SAMPLE; k++) {
        int child = tree.below(lastIndex).child(node, k);
        if (Families.of(last.typeName(child)).equals(place.type)) {
          all.add(child);
        }
      }
    }
    return all;
  }

  String what(GrowthQuestion.Pile pile, Holding holding) throws IOException {
    Place place = pile.place();
    if (pile.bySize()) {
      // it is the object itself that grows, not what is in it
      return piled.described(place.type, place.heads.get(lastIndex));
    }
    boolean inLibrary =
        holding.whose() == Ownership.Whose.LIBRARY
            || holding.whose() == Ownership.Whose.OWN && !holding.inside().isEmpty();
    return piled.of(place.type, sample(place), inLibrary);
  }

  Finding finding(GrowthQuestion.Pile pile, Trend ofPlace) throws IOException {
    Place place = pile.place();
    Holding holding = holding(place);
    String what = what(pile, holding);
    long[] counts = pile.bySize() ? place.counts : ContentCount.of(tree, place, what);
    Trend trend = counts == place.counts ? ofPlace : Trend.of(counts, actions);
    if (trend.kind() != ofPlace.kind()) {
      counts = place.counts;
      trend = ofPlace;
    }
    double perAction = allActions > 0 ? 1.0 / allActions : 0;
    List<String> reasons = new ArrayList<>();
    String cache = holding.roots() ? "" : caches.of(holding, trend.confirmed());
    double confidence = confidence(pile, trend, holding, cache, reasons);
    IntList heads = heads(place);
    Holding.Place first =
        holding.places().stream()
            .filter(one -> one.node() >= 0)
            .findFirst()
            .or(() -> holding.places().stream().findFirst())
            .orElse(null);
    Examples.Example example = examples.of(heads, what, first);
    boolean contained = holding.container() >= 0 && holding.container() != example.node();
    return new Finding(
        what,
        holding.owner(),
        holding.inside(),
        contained ? Families.of(last.typeName(holding.container())) : "",
        contained ? last.id(holding.container()) : "",
        root(place),
        Place.growth(counts) * perAction,
        Place.growth(place.bytes) * perAction,
        series(counts),
        series(place.bytes),
        confidence,
        reasons,
        sentence(pile, counts, trend, holding, what),
        example.steps(),
        Finding.holders(last, holding, Math.round(counts[lastIndex] * looked(place))),
        Math.min(1, holding.freedShare() / (pile.bySize() ? 1 : share(place))));
  }

  private double confidence(
      GrowthQuestion.Pile pile, Trend trend, Holding holding, String cache, List<String> reasons) {
    double confidence = 0.33;
    int snapshots = lastIndex + 1;
    boolean steady = trend.kind() == Trend.Kind.STEADY;
    if (steady) {
      confidence += 0.27;
      reasons.add("it rose steadily over " + snapshots + " snapshots");
      if (snapshots > 3 && trend.rising() > 0.95) {
        confidence += 0.07;
        reasons.add("every one of them is higher than those before");
      }
    } else {
      reasons.add("it grew between two snapshots, which is too few for a trend");
    }
    if (pile.place().countedByType) {
      reasons.add("where something else held them as well, they are counted by their type");
    }
    if (trend.exactPerAction() > 0 && !pile.bySize()) {
      confidence += steady ? 0.17 : 0.22;
      reasons.add("exactly " + trend.exactPerAction() + " more with every action");
    }
    if (trend.confirmed()) {
      confidence += 0.15;
      reasons.add("it went on in proportion over a much longer round");
    }
    if (isTold(holding)) {
      confidence += 0.1;
      boolean several = holding.places().size() > 1;
      reasons.add(
          holding.roots() ? ROOTS : several ? "something of your own holds them" : OWN_HOLDER);
    } else {
      confidence -= 0.07;
      reasons.add(NOTHING_OWN);
    }
    if (holding.places().isEmpty()) {
      confidence = Math.min(confidence - 0.2, 0.45);
      reasons.add("no place, nor two or three together, holds most of it");
    } else if (holding.places().size() > 1) {
      confidence -= 0.03;
    }
    if (holding.isAmongOthers()) {
      reasons.add("others hold them in too many ways: each goes when it is closed or let go there");
    }
    if (!cache.isEmpty()) {
      confidence = Math.min(confidence - 0.2, trend.confirmed() ? 0.75 : 0.6);
      reasons.add(
          "it may be a cache that is still filling ("
              + cache
              + "), and was not seen to level off: one much longer round would tell");
    }
    return Math.max(0.05, Math.min(0.99, confidence));
  }

  /** Whether something of the user's own holds, or roots that nothing else could name. */
  private static boolean isTold(Holding holding) {
    return holding.whose() == Ownership.Whose.OWN || holding.roots();
  }

  /** Why a pile that rises steadily is not sure; with a holder of one's own only for one reason. */
  String doubt(GrowthQuestion.Pile pile) throws IOException {
    return isTold(holding(pile.place())) ? "may be a cache that is still filling" : NOTHING_OWN;
  }

  private String sentence(
      GrowthQuestion.Pile pile, long[] counts, Trend trend, Holding holding, String what) {
    Place place = pile.place();
    long count = Place.growth(counts);
    String size = Labels.bytes(Place.growth(place.bytes));
    StringBuilder text = new StringBuilder();
    if (pile.bySize()) {
      text.append(what).append(" grows in size, by ").append(size).append(" in total");
    } else {
      text.append(String.format(Locale.ROOT, "%,d", count)).append(" more ").append(what);
      text.append(count == 1 ? " piles up" : " pile up").append(" (").append(size);
      if (trend.exactPerAction() > 0) {
        text.append(", exactly ").append(trend.exactPerAction()).append(" with every action");
      } else if (allActions > 0) {
        text.append(String.format(Locale.ROOT, ", %.1f an action", count / (double) allActions));
      }
      text.append(")");
    }
    if (holding.places().isEmpty()) {
      return text.append(", and no single owner holds them.").toString();
    }
    // what is in a thread is no root, but the thread is
    if (holding.roots() && (what + " ").startsWith(place.type + " ")) {
      List<Holding.Place> places = holding.places();
      if (places.size() > 1) {
        text.append(", held by ").append(Holding.text(places.subList(1, places.size())));
      }
      return text.append(": each is a root itself, ")
          .append(places.get(0).text())
          .append('.')
          .toString();
    }
    text.append(", held by ").append(holding.shortOwner());
    boolean several = holding.places().stream().map(Holding.Place::freed).anyMatch(f -> f == 0);
    if (holding.places().size() > 1 && several) {
      text.append(": all of these must let go");
    }
    return text.append('.').toString();
  }

  private String root(Place place) {
    Place at = place;
    while (!at.parent.isTop()) {
      at = at.parent;
    }
    return at.via.startsWith("thread ") ? at.via : at.type + ", " + at.via;
  }
}
