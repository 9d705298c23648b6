package lipsanon.holder;

import java.io.IOException;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import lipsanon.array.IntList;
import lipsanon.holder.Climb.Named;
import lipsanon.index.RootInfo;
import lipsanon.index.Snapshot;
import lipsanon.index.Via;
import lipsanon.label.Families;
import lipsanon.label.Links;
import lipsanon.label.Ownership;

/** Where several refer to an object: whose it is, level by level above it. One thread. */
final class NearClimb {
  private static final int MOST_VISITED = 2000;
  private static final int WIDEST = 8;

  private final Climb climb;
  private final Snapshot snapshot;
  private final Links links;
  private final Ownership ownership;
  private final Lasting lasting;
  private final LinkChoice choice;

  NearClimb(
      Climb climb,
      Snapshot snapshot,
      Links links,
      Ownership ownership,
      Lasting lasting,
      LinkChoice choice) {
    this.climb = climb;
    this.snapshot = snapshot;
    this.links = links;
    this.ownership = ownership;
    this.lasting = lasting;
    this.choice = choice;
  }

  /**
   * The nearest references of the user's own above an object that several refer to, found level by
   * level below the object that dominates it.
   */
  List<Named> of(Way way, List<Links.Link> in) throws IOException {
    int target = way.at;
    int top = snapshot.dominator(target);
    Set<Integer> seen = new HashSet<>();
    Map<Integer, String> properties = new HashMap<>();
    seen.add(target);
    IntList level = new IntList();
    boolean framework = climb.isInFramework(way, target);
    boolean shown = PageElements.isShown(snapshot, target);
    for (Links.Link link : in) {
      if (link.from() != top
          && !(shown && PageElements.isOfPage(snapshot, link.from()))
          && !lasting.isOfModule(link.via())
          && (!framework || climb.isFramework(link.from()))
          && seen.add(link.from())) {
        level.add(link.from());
        properties.put(link.from(), climb.properties(link.via(), ""));
      }
    }
    OfModule module = new OfModule();
    Named fixed = null;
    Named foreign = in.isEmpty() ? null : foreign(way, choice.mostLasting(target, in), target);
    boolean page = lasting.isPage(target);
    if (!page) {
      // its own variables; that somebody refers to a page says nothing
      in.forEach(link -> module.see(-1, link, target, way.properties));
    }
    for (int distance = 0; distance < WIDEST && !level.isEmpty(); distance++) {
      Map<String, Named> names = new LinkedHashMap<>();
      String service = null;
      IntList next = new IntList();
      for (int i = 0; i < level.size() && seen.size() < MOST_VISITED; i++) {
        int at = level.get(i);
        RootInfo root = links.root(at);
        if (root != null && isOwnVariable(root)) {
          String text = root.kind() + " " + root.detail();
          if (!climb.isFramework(at)) {
            names.putIfAbsent(text, new Named(text, -1, at, false, Ownership.Whose.OWN));
          } else if (climb.isInFramework(way, at)) {
            service = text;
          }
        }
        if (root != null && !root.passing() || lasting.isLoaded(at)) {
          // whoever refers to a root is not what keeps it: very much refers to a class loader
          continue;
        }
        // who refers to the whole program does not hold this in it; who starts it may have a name
        boolean whole = climb.isInFramework(way, at);
        for (Links.Link link : links.owning(at, Climb.MOST_LINKS)) {
          if (link.via().kind() == Via.Kind.INTERNAL
              || shown && PageElements.isOfPage(snapshot, link.from())
              || lasting.isPage(link.from())
              // what a browser does for a page hangs on it, though not on it alone
              || page && link.via().kind() == Via.Kind.SERVICE
              || links.dominates(target, link.from())) {
            continue;
          }
          if (Climb.isServiceOfLibrary(way, link.via())) {
            service = link.via().text();
          } else if (lasting.isOfModule(link.via())) {
            module.see(distance, link, at, properties.get(at));
          } else if (ownership.of(link.via()) == Ownership.Whose.OWN) {
            String text = climb.text(link, properties.get(at));
            service = whole ? text : service;
            if (whole) {
              continue;
            }
            names.putIfAbsent(text, new Named(text, link.from(), at, false, Ownership.Whose.OWN));
          } else if (link.via().kind() == Via.Kind.STATIC) {
            String text = link.via().text();
            Ownership.Whose whose = ownership.of(link.via());
            fixed = fixed == null ? new Named(text, link.from(), at, false, whose) : fixed;
          } else {
            foreign = foreign == null ? foreign(way, link, at) : foreign;
            if (link.from() != top
                && (!whole || climb.isFramework(link.from()))
                && seen.add(link.from())) {
              next.add(link.from());
              properties.put(link.from(), climb.properties(link.via(), properties.get(at)));
            }
          }
        }
      }
      List<Named> found = climb.plainest(names);
      if (!found.isEmpty()) {
        return found;
      }
      if (service != null) {
        if (way.foreign == null && !in.isEmpty()) {
          climb.remember(way, choice.mostLasting(target, in));
        }
        way.anchor = service;
        return List.of(Climb.anchored(way));
      }
      level = next;
    }
    List<Named> ofModule = module.named(way);
    // a variable of the runtime that is some way above names what else had no name that lasts
    boolean nameless =
        way.foreign == null
            && !way.runtimeLasts
            && top < 0
            && in.stream().noneMatch(link -> Lasting.isVariable(link.via()));
    if (!ofModule.isEmpty() || !nameless) {
      return ofModule;
    }
    if (fixed == null) {
      return foreign == null ? List.of() : List.of(foreign);
    }
    if (in.stream().noneMatch(this::isFieldOfLibrary)) {
      return List.of(fixed);
    }
    climb.remember(way, choice.mostLasting(target, in));
    way.anchor = fixed.text();
    return List.of(Climb.anchored(way));
  }

  /** The nearest variable of a module that leads to an object; of several always the same. */
  private final class OfModule {
    private Named nearest;
    private int at;

    void see(int distance, Links.Link link, int target, String properties) {
      if (!lasting.isOfModule(link.via())) {
        return;
      }
      String text = Families.of(link.via().with(properties));
      boolean before = nearest == null || distance == at && text.compareTo(nearest.text()) < 0;
      if (before) {
        nearest = new Named(text, link.from(), target, false, ownership.of(link.via()));
        at = distance;
      }
    }

    List<Named> named(Way way) {
      if (nearest == null) {
        return List.of();
      }
      if (way.foreign == null) {
        return List.of(nearest);
      }
      way.anchor = way.anchorLasts ? way.anchor : nearest.text();
      return List.of(Climb.anchored(way));
    }
  }

  /** A library's field, of no container and no part of one, where no nearer one was passed. */
  private Named foreign(Way way, Links.Link link, int target) throws IOException {
    Via.Kind kind = link.via().kind();
    boolean plain =
        way.foreign == null
            && (kind == Via.Kind.FIELD || kind == Via.Kind.UNNAMED)
            && ownership.of(link.via()) == Ownership.Whose.LIBRARY
            && !climb.isPart(link.via(), link.from(), target);
    String text = plain ? Families.of(link.via().text()) : "";
    return plain ? new Named(text, link.from(), target, false, Ownership.Whose.LIBRARY) : null;
  }

  private boolean isFieldOfLibrary(Links.Link link) {
    return link.via().kind() == Via.Kind.FIELD
        && ownership.of(link.via()) == Ownership.Whose.LIBRARY;
  }

  /** Whether a root is a variable of the user's own that lasts. */
  private boolean isOwnVariable(RootInfo root) {
    return root.kind().equals(RootInfo.STATIC)
        && root.named()
        && ownership.ofVariable(root.detail(), snapshot.typeName(root.node()))
            == Ownership.Whose.OWN;
  }
}
