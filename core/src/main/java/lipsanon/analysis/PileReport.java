package lipsanon.analysis;

import java.io.IOException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import lipsanon.array.IntList;
import lipsanon.index.Snapshot;

/** Says of a place where something piles up: what it is, who holds it, how sure that is. */
final class PileReport {
  private static final int SAMPLE = 60;

  private final PlaceTree tree;
  private final Snapshot last;
  private final int lastIndex;
  private final Holders holders;
  private final Owners owners;
  private final PiledType piled;
  private final int actions;

  PileReport(PlaceTree tree, TypeFilter mine, int actions) {
    this.tree = tree;
    this.actions = actions;
    this.lastIndex = tree.snapshots().size() - 1;
    this.last = tree.snapshots().get(lastIndex);
    this.holders = new Holders(last, mine);
    this.owners = new Owners(last, holders);
    this.piled = new PiledType(last, holders);
  }

  GrowthAnswer.SetAside setAside(GrowthQuestion.Pile pile, String why) throws IOException {
    Place place = pile.place();
    return new GrowthAnswer.SetAside(what(place), heldBy(place).text, series(place.bytes), why);
  }

  private static List<Long> series(long[] values) {
    return Arrays.stream(values).boxed().toList();
  }

  /** Evenly spaced objects of a place, those held by their like included. */
  private IntList sample(Place place) {
    IntList all = new IntList();
    IntList heads = place.heads.get(lastIndex);
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
        if (last.typeName(child).equals(place.type)) {
          all.add(child);
        }
      }
    }
    return all;
  }

  private String what(Place place) throws IOException {
    return piled.of(place.type, place.library, sample(place));
  }

  /** What holds a pile, with what else is known of it. */
  private static final class HeldBy {
    String text = "";
    String container = "";
    int containerNode = -1;
    boolean own;
    final List<String> others = new ArrayList<>();
  }

  private HeldBy heldBy(Place place) throws IOException {
    HeldBy held = new HeldBy();
    Set<String> without = without(place);
    Place container = place.parent;
    if (!container.isTop() && !container.heads.get(lastIndex).isEmpty()) {
      held.containerNode = largestOf(container.heads.get(lastIndex));
      held.container = Holders.clean(container.type);
    }
    boolean inCollection = !place.via.equals(Place.SHARED) || container.library;
    if (!container.isTop() && inCollection && !place.heads.get(lastIndex).isEmpty()) {
      int object = largestOf(place.heads.get(lastIndex));
      held.text = owners.of(object, without, place.isInTable());
      held.own = !held.text.isEmpty();
    }
    if (held.text.isEmpty()) {
      from(place, without, held, inCollection);
    }
    if (held.text.isEmpty()) {
      held.text = fallback(place);
    }
    if (held.text.equals(Place.SHARED) && !held.container.isEmpty()) {
      held.text = held.container + ", from several sides";
    }
    return held;
  }

  private Set<String> without(Place place) throws IOException {
    Set<String> without = new HashSet<>();
    without.add(place.type);
    String what = what(place);
    if (!what.startsWith("java.")) {
      without.add(what);
    }
    return without;
  }

  private int largestOf(IntList nodes) {
    int best = nodes.get(0);
    for (int i = 1; i < nodes.size(); i++) {
      if (last.retainedBytes(nodes.get(i)) > last.retainedBytes(best)) {
        best = nodes.get(i);
      }
    }
    return best;
  }

  /** The user's fields that hold most of the pile's objects, or the collection that they are in. */
  private void from(Place place, Set<String> without, HeldBy held, boolean inCollection)
      throws IOException {
    IntList objects = new IntList();
    if (inCollection && held.containerNode >= 0) {
      objects.add(held.containerNode);
    } else {
      objects = sample(place);
    }
    Map<String, int[]> found = new LinkedHashMap<>();
    for (int i = 0; i < objects.size(); i++) {
      for (Holders.Holder holder : holders.of(objects.get(i), without)) {
        int[] sums = found.computeIfAbsent(holder.text(), key -> new int[2]);
        sums[0]++;
        sums[1] += holder.distance();
      }
    }
    List<Map.Entry<String, int[]>> sorted = new ArrayList<>(found.entrySet());
    sorted.sort(
        (a, b) -> {
          int more = Integer.compare(b.getValue()[0], a.getValue()[0]);
          double distanceA = a.getValue()[1] / (double) a.getValue()[0];
          double distanceB = b.getValue()[1] / (double) b.getValue()[0];
          return more != 0 ? more : Double.compare(distanceA, distanceB);
        });
    int size = objects.size();
    if (!sorted.isEmpty() && sorted.get(0).getValue()[0] * 2 >= size) {
      held.text = sorted.get(0).getKey();
      held.own = true;
      double nearest = sorted.get(0).getValue()[1] / (double) sorted.get(0).getValue()[0];
      for (Map.Entry<String, int[]> other : sorted.subList(1, sorted.size())) {
        boolean often = other.getValue()[0] * 2 >= size;
        boolean near = other.getValue()[1] / (double) other.getValue()[0] <= nearest + 3;
        if (often && near && held.others.size() < 3 && !inCollection) {
          held.others.add(other.getKey());
        }
      }
    }
  }

  /** No field of the user's own: the nearest field of the runtime's, or the root. */
  private String fallback(Place place) {
    String best = "";
    for (Place at = place; at != null && !at.isTop(); at = at.parent) {
      boolean field = at.via.contains(".") && !at.via.startsWith("[");
      if (at.via.startsWith("static ")) {
        return Holders.clean(at.via);
      }
      if (field && best.isEmpty()) {
        best = Holders.clean(at.via);
      }
      if (at.parent.isTop() && best.isEmpty()) {
        best = at.via;
      }
    }
    return best;
  }

  Finding finding(GrowthQuestion.Pile pile, Trend trend) throws IOException {
    Place place = pile.place();
    HeldBy held = heldBy(place);
    String what = what(place);
    int intervals = lastIndex;
    double perAction = actions > 0 ? 1.0 / (actions * (double) intervals) : 0;
    long grownCount = Place.growth(place.counts);
    long grownBytes = Place.growth(place.bytes);
    List<String> reasons = new ArrayList<>();
    double confidence = confidence(pile, trend, held, reasons);
    return new Finding(
        what,
        held.text,
        held.container,
        held.containerNode < 0 ? "" : last.id(held.containerNode),
        root(place),
        grownCount * perAction,
        grownBytes * perAction,
        series(place.counts),
        series(place.bytes),
        confidence,
        reasons,
        sentence(pile, trend, held, what),
        steps(place, held));
  }

  private double confidence(
      GrowthQuestion.Pile pile, Trend trend, HeldBy held, List<String> reasons) {
    double confidence = 0.35;
    int snapshots = lastIndex + 1;
    if (trend.kind() == Trend.Kind.STEADY) {
      confidence += 0.3;
      reasons.add("it rose steadily over " + snapshots + " snapshots");
      if (snapshots > 3 && trend.rising() > 0.95) {
        confidence += 0.07;
        reasons.add("every one of them is higher than those before");
      }
    } else {
      reasons.add("it grew between two snapshots, which is too few for a trend");
    }
    if (trend.exactPerAction() > 0 && !pile.bySize()) {
      confidence += trend.kind() == Trend.Kind.STEADY ? 0.2 : 0.25;
      reasons.add("exactly " + trend.exactPerAction() + " more with every action");
    }
    if (held.own) {
      confidence += 0.05;
      reasons.add("the holder is your own");
    } else {
      confidence -= 0.1;
      reasons.add("nothing of your own was found above it");
    }
    if (!held.others.isEmpty()) {
      reasons.add("held also by " + String.join(" and ", held.others));
    }
    return Math.max(0.05, Math.min(0.99, confidence));
  }

  private String sentence(GrowthQuestion.Pile pile, Trend trend, HeldBy held, String what) {
    Place place = pile.place();
    long count = Place.growth(place.counts);
    String size = Labels.bytes(Place.growth(place.bytes));
    StringBuilder text = new StringBuilder();
    if (pile.bySize()) {
      text.append(what).append(" grows in size, by ").append(size).append(" in total");
    } else {
      text.append(String.format(Locale.ROOT, "%,d", count)).append(" more ").append(what);
      text.append(count == 1 ? " piles up" : " pile up").append(" (").append(size);
      if (trend.exactPerAction() > 0) {
        text.append(", exactly ").append(trend.exactPerAction()).append(" with every action");
      } else if (actions > 0) {
        double each = count / (double) (actions * lastIndex);
        text.append(String.format(Locale.ROOT, ", %.1f an action", each));
      }
      text.append(")");
    }
    text.append(", held by ").append(held.text);
    for (String other : held.others) {
      text.append(" and ").append(other);
    }
    return text.append('.').toString();
  }

  private String root(Place place) throws IOException {
    Place at = place;
    while (!at.parent.isTop()) {
      at = at.parent;
    }
    return at.via.startsWith("thread ") ? at.via : at.type + ", " + at.via;
  }

  private List<Step> steps(Place place, HeldBy held) throws IOException {
    NearestPaths paths = new NearestPaths(last);
    IntList heads = place.heads.get(lastIndex);
    int example = heads.isEmpty() ? held.containerNode : largestOf(heads);
    return example < 0 ? List.of() : paths.to(example);
  }
}
