package lipsanon.holder;

import java.io.IOException;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import lipsanon.array.IntList;
import lipsanon.index.RootInfo;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;
import lipsanon.label.Links;
import lipsanon.label.Ownership;

/**
 * Values that a runtime keeps by a key for as long as the key is there: of a thread by its
 * thread-local variables, of a flow of asynchronous work by the variables that follow it. Whoever
 * has the key is who keeps the value.
 */
final class KeyedValues {
  // in .NET every flow of work has a map of them, with fields _item0.key and _item0.value
  private static final String MAPS = "System.Threading.AsyncLocalValueMap";
  private static final String VARIABLE = "System.Threading.IAsyncLocal";
  private static final String KEY = "key";
  private static final String VALUE = "value";

  /** From an object up to what keeps it by a key. */
  private static final int MOST_STEPS = 40;

  private final Snapshot snapshot;
  private final Links links;
  private final Ownership ownership;
  private final Climb climb;

  KeyedValues(Snapshot snapshot, Links links, Ownership ownership, Climb climb) {
    this.snapshot = snapshot;
    this.links = links;
    this.ownership = ownership;
    this.climb = climb;
  }

  /**
   * Who has the key of a value; empty where it has none, or only the runtime has that.
   *
   * @param node what keeps the value by the key
   * @param value -1: not known
   */
  List<Climb.Named> of(int node, int value) throws IOException {
    if (!snapshot.types().get(snapshot.type(node)).library()) {
      return List.of();
    }
    int weak = snapshot.objects().weakKey(node);
    int key = weak < 0 ? variable(node, value) : weak;
    if (key < 0 || snapshot.depth(key) == 0) {
      return List.of();
    }
    Map<Ownership.Whose, Map<String, Climb.Named>> owners = new EnumMap<>(Ownership.Whose.class);
    for (Links.Link link : links.into(key, Climb.MOST_LINKS)) {
      Ownership.Whose whose = ownership.of(link.via());
      // some of the runtime's own variables follow the flow for the program
      boolean telling = weak < 0 && Lasting.isVariable(link.via());
      if (whose != Ownership.Whose.RUNTIME || telling) {
        String text = climb.text(link, "");
        add(owners, new Climb.Named(text, link.from(), key, false, whose));
      }
    }
    RootInfo root = links.root(key);
    if (root != null && root.named()) {
      add(owners, climb.ofRoot(root, key));
    }
    // the user's own before a library's
    return owners.isEmpty() ? List.of() : climb.plainest(owners.values().iterator().next());
  }

  /**
   * Who has the key that most of some objects are kept by, each for another thread or flow.
   *
   * @param enough how many of the objects at least, from more than a half
   * @return null if there is no such key, or only the runtime has it
   */
  Climb.Named common(IntList asked, double enough) throws IOException {
    Map<Integer, List<Climb.Named>> known = new HashMap<>();
    Map<String, Integer> counts = new HashMap<>();
    Climb.Named found = null;
    for (int i = 0; i < asked.size(); i++) {
      int below = -1;
      int at = asked.get(i);
      List<Climb.Named> names = List.of();
      for (int step = 0; step < MOST_STEPS && at >= 0 && names.isEmpty(); step++) {
        names = known.get(at);
        if (names == null) {
          names = of(at, below);
          known.put(at, names);
        }
        below = at;
        at = snapshot.dominator(at);
      }
      if (!names.isEmpty() && names.get(0).whose() != Ownership.Whose.RUNTIME) {
        int count = counts.merge(names.get(0).text(), 1, Integer::sum);
        found = count >= enough ? names.get(0) : found;
      }
    }
    return found;
  }

  private static void add(
      Map<Ownership.Whose, Map<String, Climb.Named>> owners, Climb.Named named) {
    owners
        .computeIfAbsent(named.whose(), w -> new LinkedHashMap<>())
        .putIfAbsent(named.text(), named);
  }

  /** The variable that has a value by a flow's map; -1: it is no such map, or it is not told. */
  private int variable(int map, int value) throws IOException {
    TypeInfo type = snapshot.types().get(snapshot.type(map));
    if (value < 0 || !isMap(type.name())) {
      return -1;
    }
    Map<String, Integer> keys = new HashMap<>();
    String[] found = {null};
    snapshot
        .objects()
        .references(
            map,
            reference -> {
              String field = reference.via().index() + " " + reference.via().name();
              if (field.endsWith(KEY)) {
                keys.put(field.substring(0, field.length() - KEY.length()), reference.target());
              } else if (field.endsWith(VALUE) && reference.target() == value) {
                found[0] = field.substring(0, field.length() - VALUE.length());
              }
            });
    return found[0] == null ? -1 : keys.getOrDefault(found[0], -1);
  }

  private static boolean isMap(String type) {
    // of many values there is a dictionary, whose entries stand in an array
    return type.startsWith(MAPS) || type.endsWith("[]") && type.contains("<" + VARIABLE + ",");
  }
}
