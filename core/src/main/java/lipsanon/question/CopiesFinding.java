package lipsanon.question;

import java.io.IOException;
import java.util.HashSet;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import lipsanon.array.IntList;
import lipsanon.holder.HolderSearch;
import lipsanon.holder.Holding;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;
import lipsanon.label.TypeFilter;

/**
 * Finds assemblies of .NET that were loaded several times over. A context that loads them can be
 * unloaded, once nothing refers to the objects of its types; each of these refers to what keeps its
 * context. Without a context of its own an assembly stays.
 */
record CopiesFinding(
    Snapshot snapshot, TypeFilter mine, HolderSearch search, FindingList findings) {
  private static final String CONTEXT = "System.Reflection.LoaderAllocator";

  /** Fewer copies may be meant. */
  private static final int FEWEST = 3;

  private static final int MOST_OBJECTS = 10_000;

  /** Types of the user's own that stand at one place of several copies of an assembly. */
  void add() throws IOException {
    Map<String, Set<Integer>> copies = new TreeMap<>();
    for (int t = 0; t < snapshot.types().size(); t++) {
      TypeInfo type = snapshot.types().get(t);
      if (mine.isMine(type) && type.classNode() < 0 && !type.array() && !type.loader().isEmpty()) {
        String key = type.name() + "\n" + place(type.loader());
        copies.computeIfAbsent(key, k -> new HashSet<>()).add(t);
      }
    }
    Set<Integer> most = Set.of();
    int several = 0;
    for (Set<Integer> same : copies.values()) {
      several += same.size() > 1 ? 1 : 0;
      most = same.size() >= FEWEST && same.size() > most.size() ? same : most;
    }
    if (most.isEmpty()) {
      return;
    }
    Set<Integer> types = most;
    IntList objects = new IntList();
    new TypedNodes(snapshot, types::contains)
        .each(
            0,
            snapshot.objectCount(),
            node -> {
              if (objects.size() < MOST_OBJECTS) {
                objects.add(node);
              }
            });
    if (objects.size() >= FEWEST) {
      add(snapshot.typeName(objects.get(0)), types.size(), several, objects);
    }
  }

  private void add(String name, int count, int several, IntList objects) throws IOException {
    boolean contexts = contexts(objects) >= FEWEST;
    Holding holding = search.search(objects);
    findings.addCopies(
        name,
        holding,
        count,
        "copies of an assembly from earlier loads are still there",
        String.format(
            Locale.ROOT,
            "%s is loaded %,d times, %s, and objects of it are held by %s%s; loaded more than once"
                + " in all: %,d of your types.",
            name,
            count,
            contexts
                ? "by contexts that can be unloaded"
                : "without a context that can be unloaded",
            holding.owner(),
            contexts ? ": until they are let go no context is unloaded" : "",
            several),
        objects);
  }

  /** How many contexts objects refer to. */
  private int contexts(IntList objects) throws IOException {
    Set<Integer> found = new HashSet<>();
    for (int i = 0; i < objects.size() && found.size() < FEWEST; i++) {
      snapshot
          .objects()
          .references(
              objects.get(i),
              reference -> {
                if (snapshot.typeName(reference.target()).equals(CONTEXT)) {
                  found.add(reference.target());
                }
              });
    }
    return found.size();
  }

  /** Where in its assembly a type stands, whichever copy that is: what tells the copies apart. */
  private static String place(String loader) {
    int comma = loader.lastIndexOf(", ");
    String last = comma < 0 ? "" : loader.substring(comma + 2);
    return last.startsWith("token ") ? last : loader.substring(0, Math.max(0, comma));
  }
}
