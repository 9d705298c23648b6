package lipsanon.holder;

import java.io.IOException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import lipsanon.array.IntList;
import lipsanon.index.RootInfo;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;
import lipsanon.index.Via;
import lipsanon.label.Families;
import lipsanon.label.Labels;
import lipsanon.label.Links;
import lipsanon.label.Loaders;
import lipsanon.label.Ownership;
import lipsanon.label.Threads;

/**
 * Climbs from an object to what an engineer would call its holder: out of general containers, which
 * say nothing of what they are for, up to the first field, variable or thread that is somebody's
 * own. One thread.
 */
final class Climb {
  private static final int MOST_STEPS = 400;

  static final int MOST_LINKS = 200;
  private static final int MOST_NAMES = 3;

  /** Lambdas, one captured by the other, beyond which a name is looked for. */
  private static final int MOST_LAMBDAS = 3;

  private static final String PAGE = "the page";

  private final Snapshot snapshot;
  private final Links links;
  private final Ownership ownership;
  private final GeneralContainers containers;
  private final Lasting lasting;
  private final NearClimb near;
  private final KeyedValues keys;
  private final Frameworks frameworks;
  private final LinkChoice choice;
  private final ListenerKeeper keeper;

  /** Lambdas captured by lambdas that the climb is beyond. */
  private int lambdas;

  Climb(Snapshot snapshot, Links links, Ownership ownership) {
    this.snapshot = snapshot;
    this.links = links;
    this.ownership = ownership;
    this.containers = new GeneralContainers(snapshot, ownership);
    this.lasting = new Lasting(snapshot, ownership);
    this.frameworks = new Frameworks(snapshot, ownership);
    this.choice = new LinkChoice(snapshot, ownership);
    this.keys = new KeyedValues(snapshot, links, ownership, this);
    this.keeper = new ListenerKeeper(snapshot, this);
    this.near = new NearClimb(this, snapshot, links, ownership, lasting, choice);
  }

  /**
   * A name for a holder.
   *
   * @param text in words
   * @param from the object that has the reference, or -1
   * @param target what it refers to
   * @param alone whether nothing else refers to the target: the reference's cut frees it
   * @param whose whose the reference is
   */
  record Named(String text, int from, int target, boolean alone, Ownership.Whose whose) {}

  /**
   * What was found.
   *
   * @param names the same object by several names, the plainest first; never empty
   * @param inside places on the way inside containers, outermost first
   */
  record Found(List<Named> names, List<String> inside) {}

  /** Climbs from an object that is referred to. */
  Found from(int target) throws IOException {
    Way way = new Way(target);
    for (int step = 0; step < MOST_STEPS; step++) {
      List<Named> names = step(way);
      if (!names.isEmpty()) {
        return found(way, names);
      }
      if (way.at < 0) {
        break;
      }
      if (step % Chains.LEAST == Chains.LEAST - 1) {
        int beyond = Chains.beyond(snapshot, way.at);
        if (beyond != way.at) {
          way.at = beyond;
          way.below = -1;
          way.properties = "";
        }
      }
    }
    Named best = way.foreign != null ? anchored(way) : way.runtime;
    boolean shown =
        way.foreign == null && way.element >= 0 && PageElements.isShown(snapshot, way.element);
    if (shown || best == null && (way.element >= 0 || lasting.isPage(way.first))) {
      best = inPage(way);
    }
    if (best == null) {
      best = new Named("several roots of the runtime", -1, target, false, Ownership.Whose.RUNTIME);
    }
    return found(way, List.of(best));
  }

  private static Found found(Way way, List<Named> names) {
    String name = names.get(0).text();
    boolean foreign = way.foreign != null && Holding.isOf(name, way.foreign.text());
    // what has a library's field is not in it
    List<String> inside = reversed(foreign ? way.inside.subList(0, way.belowForeign) : way.inside);
    inside.remove(name);
    return new Found(names, inside);
  }

  /**
   * A name for what an object contains. A class object contains what its static variables hold: who
   * has loaded the class holds nothing of it.
   */
  Found ofContents(int container) throws IOException {
    Named service = Services.of(snapshot, ownership, container);
    if (service != null) {
      return new Found(List.of(service), List.of());
    }
    Found found = from(container);
    boolean loaded = snapshot.classNodes().contains(container) && found.names().get(0).from() >= 0;
    if (!loaded) {
      return found;
    }
    Ownership.Whose whose = Ownership.Whose.RUNTIME;
    for (TypeInfo type : snapshot.types()) {
      whose = type.classNode() == container ? ownership.of(type) : whose;
    }
    String text = "static variables of " + Labels.of(snapshot, container);
    return new Found(List.of(new Named(text, container, container, false, whose)), List.of());
  }

  /** Who has the variable by which most of some objects are kept, each for another thread. */
  Named ofKey(IntList asked, double enough) throws IOException {
    return keys.common(asked, enough);
  }

  private static List<String> reversed(List<String> list) {
    List<String> other = new ArrayList<>(list);
    java.util.Collections.reverse(other);
    return other;
  }

  private List<Named> step(Way way) throws IOException {
    int target = way.at;
    boolean nearest = way.element < 0 && PageElements.isElement(snapshot, target);
    if (nearest) {
      way.element = target;
      way.ofElement = way.properties;
    }
    List<Named> keyed = keys.of(target, way.below);
    way.keyed = keyed.isEmpty() ? way.keyed : keyed;
    if (lasting.isPage(target) && target != way.first) {
      return List.of(inPage(way));
    }
    if (way.foreign != null && lasting.isLoaded(target)) {
      return List.of(anchored(way));
    }
    List<Links.Link> in = links.owning(target, MOST_LINKS);
    List<Named> own = own(way, in);
    if (!own.isEmpty()) {
      return own;
    }
    RootInfo root = links.root(target);
    if (root != null && (in.isEmpty() || !root.passing())) {
      return atRoot(way, root);
    }
    if (in.size() == 1) {
      pass(way, in.get(0));
      return List.of();
    }
    int above = snapshot.dominator(target);
    for (Links.Link link : in) {
      // some runtimes note a reference twice: by its name, and in a table of the same object
      if (link.from() == above && link.via().kind() == Via.Kind.PROPERTY) {
        pass(way, link);
        return List.of();
      }
    }
    if (way.ofModule) {
      return List.of(way.foreign != null ? anchored(way) : way.runtime);
    }
    List<Named> around = near.of(way, in);
    if (!around.isEmpty()) {
      return around;
    }
    Links.Link entry = choice.entry(target, in);
    if (entry != null) {
      pass(way, entry);
      return List.of();
    }
    if (root != null) {
      return atRoot(way, root);
    }
    way.scattered = true;
    if (!in.isEmpty()) {
      remember(way, choice.mostLasting(target, in));
    }
    way.at = above;
    way.below = -1;
    way.properties = "";
    return List.of();
  }

  /** What is in a page and held by nothing else is told by the element that has it. */
  private Named inPage(Way way) throws IOException {
    if (way.foreign != null) {
      way.anchor = PAGE;
      return anchored(way);
    }
    // what scripts have put on a document or window stands in a property of it
    if (way.element < 0 && !way.properties.isEmpty() && way.below >= 0) {
      String text = snapshot.typeName(way.at).replaceFirst(" / .*", "") + way.properties;
      return new Named(text, way.at, way.below, true, Ownership.Whose.RUNTIME);
    }
    if (!way.ofElement.isEmpty()) {
      way.inside.add(way.ofElement.substring(1));
    }
    String text = way.element < 0 ? PAGE : PageElements.name(snapshot, way.element);
    return new Named(text, way.element, way.first, false, Ownership.Whose.RUNTIME);
  }

  /** References of the user's own into the way's object. */
  private List<Named> own(Way way, List<Links.Link> in) throws IOException {
    Map<String, Named> names = new LinkedHashMap<>();
    boolean alone = in.size() == 1 && isAlone(way.at);
    for (Links.Link link : in) {
      if (ownership.of(link.via()) == Ownership.Whose.OWN
          && !containers.isGeneral(link.from(), way.at)) {
        String text = text(link, way.properties) + keeper.of(link);
        if (isServiceOfLibrary(way, link.via()) || isInFramework(way, way.at)) {
          way.anchor = text;
          return List.of(anchored(way));
        }
        names.putIfAbsent(text, new Named(text, link.from(), way.at, alone, Ownership.Whose.OWN));
      }
    }
    return plainest(names);
  }

  /** Whether a single reference keeps an object: its cut frees it. */
  boolean isAlone(int node) throws IOException {
    return links.into(node, 2).size() == 1;
  }

  /** Whether a library has set a timer, or listens: then the runtime keeps what the library has. */
  static boolean isServiceOfLibrary(Way way, Via via) {
    return via.kind() == Via.Kind.SERVICE && way.foreign != null;
  }

  /**
   * Whether an object has the whole program, of which the way has passed something that has a name.
   */
  boolean isInFramework(Way way, int node) throws IOException {
    boolean named = way.foreign != null || way.runtime != null && !way.runtimeIsPart;
    return named && frameworks.isOne(node);
  }

  /** Whether an object has the whole program: to name it says nothing. */
  boolean isFramework(int node) throws IOException {
    return frameworks.isOne(node);
  }

  String text(Links.Link link, String properties) throws IOException {
    String text = Families.of(link.via().with(properties));
    if (link.via().kind() == Via.Kind.LOCAL) {
      String thread = Threads.name(snapshot, link.from());
      return text + (thread.isEmpty() ? "" : " of thread " + thread);
    }
    return text;
  }

  /** Declared fields before what a function captured for itself, and not too many. */
  List<Named> plainest(Map<String, Named> names) throws IOException {
    List<Named> sorted = new ArrayList<>(names.values());
    sorted.sort(
        Comparator.comparing((Named named) -> isCaptured(named.text()))
            .thenComparing(named -> named.from() < 0 ? 0 : snapshot.depth(named.from())));
    if (!sorted.isEmpty() && !isCaptured(sorted.get(0).text())) {
      sorted.removeIf(named -> isCaptured(named.text()));
    }
    List<Named> beyond = sorted.isEmpty() ? sorted : beyondLambda(sorted.get(0));
    if (!beyond.isEmpty()) {
      return beyond;
    }
    return sorted.size() > MOST_NAMES ? new ArrayList<>(sorted.subList(0, 1)) : sorted;
  }

  /**
   * What a lambda captured has no name in the source: who has the lambda says more, if it is of the
   * same class. Of another class it says less than the one that the lambda stands in.
   */
  private List<Named> beyondLambda(Named captured) throws IOException {
    if (!ClosureNames.isOfLambda(captured.text()) || lambdas == MOST_LAMBDAS) {
      return List.of();
    }
    lambdas++;
    try {
      List<Named> names = from(captured.from()).names();
      boolean same = ClosureNames.isInClassOf(captured.text(), names.get(0).text());
      return same && names.get(0).whose() == Ownership.Whose.OWN ? names : List.of();
    } finally {
      lambdas--;
    }
  }

  private static boolean isCaptured(String text) {
    return ClosureNames.isOfLambda(text)
        || text.contains(".this$")
        || text.contains(".val$")
        || text.startsWith("local variable");
  }

  /** Goes on to the one object that refers to the way's. */
  private void pass(Way way, Links.Link link) throws IOException {
    remember(way, link);
    way.properties = properties(link.via(), way.properties);
    way.below = way.at;
    way.at = link.from();
  }

  /** Names of properties of plain objects tell more of a variable; a library's own do not. */
  String properties(Via via, String below) {
    boolean plain = ownership.of(via) == Ownership.Whose.RUNTIME && !via.name().startsWith("<");
    return !plain ? "" : via.kind() == Via.Kind.PROPERTY ? "." + via.name() + below : below;
  }

  /** Notes a reference that the way passes: it may become a name. */
  void remember(Way way, Links.Link link) throws IOException {
    Via via = link.via();
    Ownership.Whose whose = ownership.of(via);
    boolean named =
        via.kind() == Via.Kind.FIELD
            || via.kind() == Via.Kind.UNNAMED
            || via.kind() == Via.Kind.PROPERTY
            || Lasting.isVariable(via);
    if (!named) {
      return;
    }
    String text = passed(link, whose, way);
    way.ofModule |= lasting.isOfModule(via);
    Named candidate = new Named(text, link.from(), way.at, isAlone(way.at), whose);
    if (whose == Ownership.Whose.LIBRARY || via.kind() == Via.Kind.STATIC) {
      way.inside.add(text);
    }
    // of a library the nearest that is no part of a container; of the runtime what lasts
    boolean lasting = Lasting.isVariable(via);
    if (whose == Ownership.Whose.LIBRARY) {
      boolean part = !lasting && isPart(via, link.from(), way.at);
      boolean nearest = way.foreign == null || way.foreignIsPart && !part;
      way.foreign = nearest ? candidate : way.foreign;
      way.belowForeign = nearest ? way.inside.size() - 1 : way.belowForeign;
      boolean alone = !nearest && !part && !way.scattered && via.kind() == Via.Kind.FIELD;
      way.foreignOf = nearest ? "" : alone ? text : way.foreignOf;
      way.foreignIsPart = way.foreign == candidate ? part : way.foreignIsPart;
      way.anchor = lasting ? text : way.anchor;
      way.anchorLasts |= via.kind() == Via.Kind.STATIC;
    } else if (whose == Ownership.Whose.RUNTIME) {
      boolean plain = snapshot.types().get(snapshot.type(link.from())).plain();
      boolean part =
          !lasting
              && (plain
                  || choice.isCollection(link.from())
                  || containers.isGeneral(link.from(), way.at));
      boolean better = lasting && !way.runtimeLasts || way.runtimeIsPart && !part;
      way.runtime = way.runtime == null || better ? candidate : way.runtime;
      way.runtimeIsPart = way.runtime == candidate ? part : way.runtimeIsPart;
      way.runtimeLasts |= lasting;
    }
  }

  private String passed(Links.Link link, Ownership.Whose whose, Way way) {
    if (Loaders.isTable(link.via())) {
      return Loaders.named(snapshot, link.from());
    }
    return Families.of(link.via().with(whose == Ownership.Whose.LIBRARY ? "" : way.properties));
  }

  /** Whether a reference to an object is of a part of a container, or of a container itself. */
  boolean isPart(Via via, int from, int target) throws IOException {
    return isNested(via, from) || containers.isGeneral(from, target);
  }

  private boolean isNested(Via via, int from) {
    return via.owner().contains("$")
        || ClosureNames.isClosure(via.owner())
        || snapshot.types().get(snapshot.type(from)).is(TypeInfo.Trait.PASSAGE);
  }

  /** Nothing of the user's own up to a root. */
  private List<Named> atRoot(Way way, RootInfo root) throws IOException {
    if (root.named()) {
      Named named = ofRoot(root, way.at);
      if (named.whose() == Ownership.Whose.RUNTIME && isKeyedByOwn(way)) {
        return way.keyed;
      }
      boolean foreign = way.foreign != null && named.whose() != Ownership.Whose.OWN;
      if (foreign || isInFramework(way, way.at)) {
        way.anchor = named.text();
        return List.of(anchored(way));
      }
      return List.of(named);
    }
    boolean thread = root.kind().equals(RootInfo.THREAD);
    boolean keyed = !way.keyed.isEmpty() && (thread || !way.runtimeLasts);
    // who has a thread-local variable, before what the thread keeps by it; a library's only after
    if (keyed && isKeyedByOwn(way)) {
      return way.keyed;
    }
    if (way.foreign != null) {
      return List.of(anchored(way));
    }
    if (keyed) {
      return way.keyed;
    }
    if (root.kind().equals(RootInfo.TABLE)) {
      return List.of(new Named(inTable(way), -1, way.at, true, Ownership.Whose.RUNTIME));
    }
    if (way.runtime != null && (way.runtimeLasts || !thread)) {
      return List.of(way.runtime);
    }
    String text =
        thread ? "thread " + Labels.of(snapshot, way.at) : Labels.rootText(snapshot, way.at);
    return List.of(new Named(text, -1, way.at, true, Ownership.Whose.RUNTIME));
  }

  private static boolean isKeyedByOwn(Way way) {
    return !way.keyed.isEmpty() && way.keyed.get(0).whose() == Ownership.Whose.OWN;
  }

  /** A variable that is a root by its own name. */
  Named ofRoot(RootInfo root, int node) {
    Ownership.Whose whose =
        ownership.ofVariable(root.detail(), snapshot.types().get(snapshot.type(node)).name());
    return new Named(root.kind() + " " + root.detail(), -1, node, true, whose);
  }

  /** A variable that the runtime keeps in a table of its own, and does not name. */
  private String inTable(Way way) {
    boolean text =
        way.below < 0
            || snapshot
                .types()
                .get(snapshot.type(way.below))
                .traits()
                .contains(TypeInfo.Trait.TEXT);
    return text ? RootInfo.TABLE : "a static variable (" + snapshot.typeName(way.below) + ")";
  }

  /** A library's field, with what keeps the object that has it. */
  static Named anchored(Way way) {
    Named named = way.foreign != null ? way.foreign : way.runtime;
    String keeper = way.anchor.isEmpty() && named == way.foreign ? way.foreignOf : way.anchor;
    boolean same = keeper.isEmpty() || keeper.equals(named.text());
    return same
        ? named
        : new Named(
            named.text() + Holding.KEPT_BY + keeper,
            named.from(),
            named.target(),
            named.alone(),
            named.whose());
  }
}
