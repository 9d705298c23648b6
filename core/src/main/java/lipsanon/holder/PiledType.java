package lipsanon.holder;

import java.io.IOException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import lipsanon.array.IntList;
import lipsanon.index.FieldValue;
import lipsanon.index.Reference;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;
import lipsanon.index.Via;
import lipsanon.label.ElementNames;
import lipsanon.label.Families;
import lipsanon.label.Labels;
import lipsanon.label.Ownership;

/**
 * Names what piles up: behind entries, links and wrappers of libraries, what these are for. The
 * content is the nearest type of the user's own of which each entry has one of its own, values
 * before keys; else the largest that most entries hold. One thread.
 */
public final class PiledType {
  private static final int SAMPLE = 60;
  private static final int DEEPEST = 5;
  private static final int MOST_REFERENCES = 60;
  private static final int MOST_PROPERTIES = 4;

  /** What more than so many refer to is shared, also where a single sample is known. */
  private static final int SHARED = 16;

  private final Snapshot snapshot;
  private final Ownership ownership;

  public PiledType(Snapshot snapshot, Ownership ownership) {
    this.snapshot = snapshot;
    this.ownership = ownership;
  }

  /**
   * The name for objects of a type, some of which are given.
   *
   * @param inLibrary whether they are in a container of a library: its plain objects are entries
   */
  public String of(String type, IntList objects, boolean inLibrary) throws IOException {
    if (objects.isEmpty()) {
      return Families.of(type);
    }
    TypeInfo info = info(objects.get(0));
    Ownership.Whose whose = ownership.of(snapshot, objects.get(0));
    boolean entry = inLibrary && info.plain() && info.name().equals("Object");
    boolean open = info.passage() || entry || whose == Ownership.Whose.LIBRARY || isWrapper(info);
    // what the compiler makes for a function's captured variables says less than these
    boolean captured = ClosureNames.isCaptured(info.name());
    if (whose != Ownership.Whose.OWN && open || captured) {
      String content = content(objects, captured || !info.passage(), Ownership.Whose.OWN);
      if (content != null) {
        return content;
      }
    }
    return described(type, objects);
  }

  /** Collections of .NET are called by themselves, with what they hold: their names tell it. */
  private static boolean isWrapper(TypeInfo info) {
    return info.library()
        && (info.name().startsWith("java.")
            || info.name().startsWith("System.")
                && !info.traits().contains(TypeInfo.Trait.COLLECTION));
  }

  private TypeInfo info(int node) {
    return snapshot.types().get(snapshot.type(node));
  }

  /** What was found of a type, one step or more behind the objects. */
  private static final class Behind {
    final Set<Integer> nodes = new HashSet<>();
    final IntList some = new IntList();
    int samples;
    long bytes;
    boolean key = true;

    /** Takes over what was found of another type that is the same but for a number. */
    void join(Behind other) {
      nodes.addAll(other.nodes);
      for (int i = 0; i < other.some.size() && some.size() < SAMPLE; i++) {
        some.add(other.some.get(i));
      }
      samples += other.samples;
      bytes += other.bytes;
      key &= other.key;
    }
  }

  /**
   * What is behind some objects.
   *
   * @param whose whose it is at least
   * @param only whether nothing else will do
   */
  private String content(IntList objects, boolean only, Ownership.Whose whose) throws IOException {
    List<IntList> level = new ArrayList<>();
    int every = Math.max(1, objects.size() / SAMPLE);
    for (int i = 0; i < objects.size() && level.size() < SAMPLE; i += every) {
      IntList one = new IntList();
      one.add(objects.get(i));
      level.add(one);
    }
    int samples = level.size();
    Map<String, Behind> first = null;
    String captured = null;
    Set<Integer> seen = new HashSet<>();
    // behind what a function captured is what it is for
    for (int depth = 0; depth < (captured == null ? DEEPEST : DEEPEST + 1); depth++) {
      Map<String, Behind> types = new LinkedHashMap<>();
      List<IntList> next = new ArrayList<>();
      boolean any = false;
      for (IntList sample : level) {
        IntList below = below(sample, depth, types, seen);
        next.add(below);
        any |= !below.isEmpty();
      }
      types = MadeTypes.joined(types, Behind::join);
      String best = best(types, samples, whose);
      if (best != null && !ClosureNames.isCaptured(info(types.get(best).some.get(0)).name())) {
        return described(best, types.get(best).some);
      }
      captured = captured == null ? best : captured;
      first = first == null ? types : first;
      if (!any) {
        break;
      }
      level = next;
    }
    if (captured != null) {
      return captured;
    }
    String best = only ? null : best(first, samples, Ownership.Whose.RUNTIME);
    if (best != null && isCollection(first.get(best))) {
      // what a library has in lists or sets says more than that they are such
      String inside = content(first.get(best).some, true, Ownership.Whose.LIBRARY);
      if (inside != null) {
        return inside;
      }
    }
    return best == null ? null : described(best, first.get(best).some);
  }

  private boolean isCollection(Behind behind) {
    TypeInfo info = info(behind.some.get(0));
    return info.library() && info.is(TypeInfo.Trait.COLLECTION);
  }

  /** Notes what one sample's objects refer to; what may lead further is returned. */
  private IntList below(IntList from, int depth, Map<String, Behind> types, Set<Integer> seen)
      throws IOException {
    IntList below = new IntList();
    Set<String> here = new HashSet<>();
    for (int i = 0; i < Math.min(from.size(), SAMPLE); i++) {
      int node = from.get(i);
      int ownType = snapshot.type(node);
      int[] left = {MOST_REFERENCES};
      snapshot
          .objects()
          .references(
              node,
              reference -> {
                int target = reference.target();
                boolean hidden =
                    reference.kind() != Reference.Kind.STRONG
                        || reference.via().kind() == Via.Kind.INTERNAL
                        || snapshot.type(target) == ownType
                        || snapshot.depth(target) == 0
                        || isBookkeeping(target);
                if (hidden || left[0]-- <= 0) {
                  return;
                }
                String name = Families.of(snapshot.typeName(target));
                Behind behind = types.computeIfAbsent(name, key -> new Behind());
                if (behind.nodes.add(target)) {
                  behind.bytes += snapshot.retainedBytes(target);
                  if (behind.some.size() < SAMPLE) {
                    behind.some.add(target);
                  }
                }
                behind.samples += here.add(name) ? 1 : 0;
                behind.key &= isKey(reference.via());
                // what several share is no content of any of them
                if (seen.add(target) && (depth == 0 || snapshot.dominator(target) == node)) {
                  below.add(target);
                }
              });
    }
    return below;
  }

  private boolean isBookkeeping(int target) {
    TypeInfo info = info(target);
    return snapshot.classNodes().contains(target)
        || info.plain() && info.library() && !isContent(info.name())
        || info.observer();
  }

  /** Plain objects and functions may be what a program is about. */
  private static boolean isContent(String type) {
    return type.equals("Object") || type.equals("v8:closure");
  }

  private static boolean isKey(Via via) {
    String name = via.name().toLowerCase(java.util.Locale.ROOT);
    return name.contains("key") || name.equals("k") || name.equals("hash");
  }

  /**
   * The type of which most samples have one each: values first, then the largest.
   *
   * @param whose whose it is at least
   */
  private String best(Map<String, Behind> types, int samples, Ownership.Whose whose)
      throws IOException {
    String best = null;
    for (Map.Entry<String, Behind> entry : types.entrySet()) {
      Behind behind = entry.getValue();
      boolean own =
          !behind.some.isEmpty()
              && ownership.of(snapshot, behind.some.get(0)).compareTo(whose) <= 0;
      boolean often = behind.samples * 2 >= samples;
      // what all share is no content of any
      boolean each =
          samples > 1
              ? behind.nodes.size() * 2 >= behind.samples
              : !behind.some.isEmpty() && snapshot.inbound(behind.some.get(0)).size() <= SHARED;
      if (!each || !often || whose != Ownership.Whose.RUNTIME && !own) {
        continue;
      }
      Behind known = best == null ? null : types.get(best);
      boolean better =
          known == null
              || known.key && !behind.key
              || known.key == behind.key && behind.bytes > known.bytes;
      best = better ? entry.getKey() : best;
    }
    return best;
  }

  /**
   * The name for objects of a type as such, whatever is in them: with what all are called, if that
   * is the same; a plain object by its properties.
   */
  public String described(String type, IntList objects) throws IOException {
    String family = Families.of(type);
    if (objects.isEmpty()) {
      return family;
    }
    TypeInfo info = info(objects.get(0));
    if (ownership.of(info) == Ownership.Whose.OWN) {
      return family;
    }
    if (info.plain() && info.name().equals("Object")) {
      String properties = properties(objects);
      return properties.isEmpty() ? family : family + " {" + properties + "}";
    }
    if (info.plain() && info.array()) {
      String elements = elements(objects);
      return elements.isEmpty() ? family : family + " of " + elements;
    }
    return labelled(family, objects);
  }

  /** The name of a type with what its objects are called, of which the first are looked at. */
  public String called(String type, IntList objects) throws IOException {
    IntList some = new IntList();
    for (int i = 0; i < Math.min(SAMPLE, objects.size()); i++) {
      some.add(objects.get(i));
    }
    return labelled(Families.of(type), some);
  }

  private String labelled(String type, IntList objects) throws IOException {
    Map<String, Integer> labels = new HashMap<>();
    boolean classes = snapshot.classNodes().contains(objects.get(0));
    for (int i = 0; i < objects.size(); i++) {
      String own = Labels.of(snapshot, objects.get(i));
      if (!own.isEmpty() && !own.startsWith("\"")) {
        labels.merge(classes ? Families.stem(own) : own, 1, Integer::sum);
      }
    }
    for (Map.Entry<String, Integer> entry : labels.entrySet()) {
      if (entry.getValue() * 10 >= objects.size() * 9) {
        // the label of a class says that it is one
        boolean made = classes && objects.size() > 1;
        return made
            ? entry.getKey() + "…"
            : classes ? type : ElementNames.written(type, entry.getKey());
      }
    }
    return type;
  }

  /** The properties that most of some plain objects have. */
  private String properties(IntList objects) throws IOException {
    Map<String, Integer> counts = new LinkedHashMap<>();
    for (int i = 0; i < objects.size(); i++) {
      for (FieldValue field : snapshot.objects().fields(objects.get(i), SAMPLE)) {
        if (field.via().kind() == Via.Kind.PROPERTY) {
          counts.merge(field.via().name(), 1, Integer::sum);
        }
      }
    }
    List<String> common = new ArrayList<>();
    for (Map.Entry<String, Integer> entry : counts.entrySet()) {
      if (entry.getValue() * 2 > objects.size()) {
        common.add(entry.getKey());
      }
    }
    boolean more = common.size() > MOST_PROPERTIES;
    return String.join(", ", more ? common.subList(0, MOST_PROPERTIES) : common)
        + (more ? ", …" : "");
  }

  /** What most elements of some arrays are. */
  private String elements(IntList objects) throws IOException {
    Map<String, Integer> counts = new HashMap<>();
    int all = 0;
    for (int i = 0; i < objects.size(); i++) {
      for (FieldValue field : snapshot.objects().fields(objects.get(i), SAMPLE)) {
        if (field.target() >= 0 && field.via().kind() == Via.Kind.ELEMENT) {
          all++;
          counts.merge(Families.of(snapshot.typeName(field.target())), 1, Integer::sum);
        }
      }
    }
    for (Map.Entry<String, Integer> entry : counts.entrySet()) {
      if (entry.getValue() * 10 >= all * 9) {
        return entry.getKey();
      }
    }
    return "";
  }
}
