package lipsanon.holder;

import java.io.IOException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import lipsanon.array.IntList;
import lipsanon.index.Reference;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;
import lipsanon.index.Via;
import lipsanon.label.ElementNames;
import lipsanon.label.Labels;
import lipsanon.label.Ownership;

/**
 * Elements of a page that are in it. Each is held by its neighbours and by what is drawn of it as
 * well as by the element around it, so that no cut frees them: they go when they are taken out.
 */
final class PageElements {
  /** Behind an element's name. */
  private static final String IN_PAGE = " in the page";

  private static final int SAMPLE = 60;
  private static final int DEEPEST = 4;

  /** Elements that are gone on with from one of the sample. */
  private static final int MOST_BESIDE = 200;

  /** What stands in elements, and is none. */
  private static final Set<String> TEXTS = Set.of("Text", "Comment");

  private final Snapshot snapshot;

  PageElements(Snapshot snapshot) {
    this.snapshot = snapshot;
  }

  /**
   * The element that most of some elements are in; null if they are none, or in none.
   *
   * @param enough how many of them, as a share
   */
  Holding around(IntList asked, IntList members, double enough) throws IOException {
    List<Set<Integer>> level = new ArrayList<>();
    for (int i = 0; i < asked.size(); i += Math.max(1, asked.size() / SAMPLE)) {
      int node = asked.get(i);
      if (!isElement(snapshot, node) && !TEXTS.contains(snapshot.typeName(node))) {
        return null;
      }
      level.add(elements(Set.of(node)));
    }
    for (int depth = 0; depth < DEEPEST && level.size() > 1; depth++) {
      int shared = shared(level, enough);
      if (shared >= 0) {
        return isShown(snapshot, shared) ? in(shared, members) : null;
      }
      for (int i = 0; i < level.size(); i++) {
        level.set(i, elements(level.get(i)));
      }
    }
    return null;
  }

  private static int shared(List<Set<Integer>> level, double enough) {
    Map<Integer, Integer> counts = new HashMap<>();
    for (Set<Integer> elements : level) {
      elements.forEach(element -> counts.merge(element, 1, Integer::sum));
    }
    int most = -1;
    for (Map.Entry<Integer, Integer> entry : counts.entrySet()) {
      if (most < 0 || entry.getValue() > counts.get(most)) {
        most = entry.getKey();
      }
    }
    return most >= 0 && counts.get(most) >= enough * level.size() ? most : -1;
  }

  private Holding in(int element, IntList members) throws IOException {
    Holding.Place place = new Holding.Place(name(snapshot, element), element, element, "", 0, 0);
    return new Holding(
        List.of(place), 0, 0, members.size(), List.of(), element, Ownership.Whose.RUNTIME, false);
  }

  /** Elements that some refer to: what they are in, and what stands beside them. */
  private Set<Integer> elements(Set<Integer> nodes) throws IOException {
    Set<Integer> found = new HashSet<>();
    for (int node : nodes) {
      snapshot
          .objects()
          .references(
              node,
              reference -> {
                boolean other =
                    reference.kind() == Reference.Kind.STRONG
                        && reference.via().kind() != Via.Kind.INTERNAL
                        && !nodes.contains(reference.target())
                        && isElement(snapshot, reference.target());
                if (other && found.size() < MOST_BESIDE) {
                  found.add(reference.target());
                }
              });
    }
    return found;
  }

  /** Whether several places hold only by parts of a page, which nobody can empty. */
  boolean areParts(List<Holding.Place> places) throws IOException {
    for (Holding.Place place : places) {
      if (place.emptied() < 0 || !isOfPage(snapshot, place.emptied())) {
        return false;
      }
    }
    return true;
  }

  /** Whether something is an element that is shown, or what draws it. */
  static boolean isOfPage(Snapshot snapshot, int node) throws IOException {
    return snapshot.types().get(snapshot.type(node)).is(TypeInfo.Trait.MACHINERY)
        || isShown(snapshot, node);
  }

  static boolean isElement(Snapshot snapshot, int node) {
    return snapshot.types().get(snapshot.type(node)).is(TypeInfo.Trait.ELEMENT);
  }

  /** Whether an element is shown in a page, or in a part of it. */
  static boolean isShown(Snapshot snapshot, int node) throws IOException {
    return isElement(snapshot, node) && !Labels.of(snapshot, node).endsWith(ElementNames.DETACHED);
  }

  /** An element as it is written, with what was noted of its attributes: where it is in a page. */
  static String name(Snapshot snapshot, int element) throws IOException {
    String type = snapshot.typeName(element);
    String attributes = Labels.of(snapshot, element);
    String tag =
        attributes.isEmpty() || !ElementNames.isTag(type)
            ? type
            : ElementNames.written(type, attributes);
    return tag + IN_PAGE;
  }
}
