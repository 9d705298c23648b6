package lipsanon.question;

import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import lipsanon.array.IntList;
import lipsanon.holder.PiledType;
import lipsanon.index.Snapshot;
import lipsanon.index.Via;
import lipsanon.label.Families;
import lipsanon.label.NearestPaths;
import lipsanon.label.Step;
import lipsanon.label.TypeFilter;
import lipsanon.select.Selections;

/**
 * A very long chain of like objects, on the way to the object that lies deepest.
 *
 * @param steps the whole way, the chain's many equal steps folded into one; before and behind it
 *     some are told one by one
 * @param begin the step at which it begins
 * @param link what one of its links is
 * @param links how many there are
 */
record LongChain(List<Step> steps, Step begin, Step link, long links) {
  private static final int LONG = 5_000;

  /** Of what makes up much of the heap, so many are a long chain. */
  private static final int LONG_IF_LARGE = 1_000;

  /** The list of all objects with finalizers is no chain of the program's. */
  private static final String FINALIZER = "java.lang.ref.Finalizer";

  /** The chain, or null if there is none. */
  static LongChain of(Snapshot snapshot) throws IOException {
    int node = snapshot.deepest();
    if (node < 0 || snapshot.depth(node) < LONG_IF_LARGE) {
      return null;
    }
    NearestPaths paths = new NearestPaths(snapshot);
    IntList nodes = new IntList();
    List<Via> vias = new ArrayList<>();
    paths.collect(node, nodes, vias);
    paths.trim(nodes, vias);
    List<Step> steps = paths.fold(nodes, vias);
    for (int i = 1; i < steps.size(); i++) {
      if (steps.get(i).repeats() >= LONG_IF_LARGE && !steps.get(i).type().equals(FINALIZER)) {
        LongChain chain = unfolded(steps, i);
        if (chain.isLong(snapshot)) {
          return chain;
        }
      }
    }
    TurnedChain turned = TurnedChain.longest(snapshot, paths, nodes, vias);
    if (turned == null || turned.count() < LONG_IF_LARGE) {
      return null;
    }
    List<Step> way = paths.to(turned.next());
    Step link = way.get(way.size() - 1);
    for (Step step : way) {
      if (step.id().equals(snapshot.id(turned.node()))) {
        LongChain chain = new LongChain(way, step, link, turned.count());
        return chain.isLong(snapshot) ? chain : null;
      }
    }
    return null;
  }

  private boolean isLong(Snapshot snapshot) {
    double share = begin.retainedBytes() / (double) Math.max(1, snapshot.totals().retainedBytes());
    return links >= LONG || share >= SurveyFindings.LARGE;
  }

  private static LongChain unfolded(List<Step> steps, int folded) {
    Step step = steps.get(folded);
    int begin = folded - 1;
    long links = step.repeats();
    while (begin > 0 && isAlike(steps.get(begin), step)) {
      links += steps.get(begin).repeats();
      begin--;
    }
    links += steps.get(begin).type().equals(step.type()) ? 1 : 0;
    for (int i = folded + 1; i < steps.size() && isAlike(steps.get(i), step); i++) {
      links += steps.get(i).repeats();
    }
    return new LongChain(steps, steps.get(begin), step, links);
  }

  /** The same reference, or one between the same types whose field is not known. */
  private static boolean isAlike(Step step, Step link) {
    String unnamed = new Via(Via.Kind.UNNAMED, link.type(), link.type(), -1).text();
    return step.via().equals(link.via())
        || step.type().equals(link.type()) && step.via().equals(unnamed);
  }

  /** The object at which it begins. */
  int first(Snapshot snapshot) throws IOException {
    return Selections.object(snapshot, begin.id());
  }

  /** What its links are called. */
  String links(Snapshot snapshot, PiledType piled) throws IOException {
    IntList first = new IntList();
    first.add(first(snapshot));
    return snapshot.typeName(first.get(0)).equals(link.type())
        ? piled.called(link.type(), first)
        : Families.of(link.type());
  }

  /**
   * What it carries of the user's own, if that is what it is for: {@code "with 20,000 Crane, "}, or
   * "".
   */
  String carried(Snapshot snapshot, TypeFilter mine, PiledType piled) throws IOException {
    int type = OwnPile.largest(snapshot, mine, links / 2, 0);
    if (type < 0 || snapshot.types().get(type).name().equals(link.type())) {
      return "";
    }
    long all = snapshot.counts(type).count();
    boolean part = all > Below.MOST_COUNTED;
    IntList members = OwnPile.members(snapshot, type, Below.MOST_COUNTED);
    long below = Below.count(snapshot, first(snapshot), members);
    long carried = part ? below * all / Math.max(1, members.size()) : below;
    if (carried < links / 2) {
      return "";
    }
    String name = piled.called(snapshot.types().get(type).name(), members);
    return String.format(Locale.ROOT, "with %s%,d %s, ", part ? "about " : "", carried, name);
  }
}
