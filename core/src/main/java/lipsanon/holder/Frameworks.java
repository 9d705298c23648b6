package lipsanon.holder;

import java.io.IOException;
import java.util.HashMap;
import java.util.HashSet;
import java.util.Map;
import java.util.Set;
import lipsanon.array.IntList;
import lipsanon.index.Reference;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;
import lipsanon.index.Via;
import lipsanon.label.Ownership;

/**
 * Recognises objects of libraries that have the whole program in them, as what starts and wires its
 * services does: who refers to such an object has everything, which says nothing of one thing.
 */
final class Frameworks {
  /** Services of the user's own that it leads to, of different types, at least. */
  private static final int SERVICES = 4;

  /** Of a service there are no more objects. */
  private static final int MOST_ALIKE = 2;

  /** What wires services is one with few of them too. */
  private static final Set<String> WIRING =
      Set.of(
          "Microsoft.Extensions.DependencyInjection.ServiceProvider",
          "Microsoft.Extensions.DependencyInjection.ServiceLookup.ServiceProviderEngineScope",
          "Microsoft.Extensions.Hosting.Internal.Host",
          "Microsoft.AspNetCore.Builder.WebApplication");

  /** Of what has the whole program there are not many. */
  private static final int MOST_OF_ONE = 16;

  private static final int DEEPEST = 8;
  private static final int MOST_SEEN = 20_000;

  /** Objects that are gone through for all that is asked about; beyond that only names tell. */
  private static final long MOST_IN_ALL = 3_000_000;

  private final Snapshot snapshot;
  private final Ownership ownership;
  private final Map<Integer, Boolean> known = new HashMap<>();
  private long left = MOST_IN_ALL;

  Frameworks(Snapshot snapshot, Ownership ownership) {
    this.snapshot = snapshot;
    this.ownership = ownership;
  }

  /** Whether an object is one. */
  boolean isOne(int node) throws IOException {
    TypeInfo type = snapshot.types().get(snapshot.type(node));
    if (ownership.of(type) != Ownership.Whose.LIBRARY || type.array()) {
      return false;
    }
    boolean wiring = WIRING.contains(type.name());
    if (!wiring && snapshot.counts(snapshot.type(node)).count() > MOST_OF_ONE) {
      return false;
    }
    Boolean answer = known.get(node);
    if (answer == null) {
      answer = wiring || left > 0 && leadsToServices(node);
      known.put(node, answer);
    }
    return answer;
  }

  private boolean leadsToServices(int node) throws IOException {
    Set<Integer> services = new HashSet<>();
    Set<Integer> seen = new HashSet<>();
    IntList level = new IntList();
    level.add(node);
    seen.add(node);
    for (int depth = 0; depth < DEEPEST && services.size() < SERVICES; depth++) {
      IntList next = new IntList();
      for (int i = 0; i < level.size() && seen.size() < MOST_SEEN; i++) {
        snapshot
            .objects()
            .references(
                level.get(i),
                reference -> {
                  int target = reference.target();
                  boolean counts =
                      reference.kind() == Reference.Kind.STRONG
                          && reference.via().kind() != Via.Kind.INTERNAL
                          && seen.size() < MOST_SEEN
                          && seen.add(target);
                  if (counts && isService(target)) {
                    services.add(snapshot.type(target));
                  } else if (counts && leadsOn(target)) {
                    next.add(target);
                  }
                });
      }
      level = next;
    }
    left -= seen.size();
    return services.size() >= SERVICES;
  }

  /** Code and what runs it lead to everything. */
  private boolean leadsOn(int node) {
    TypeInfo type = snapshot.types().get(snapshot.type(node));
    return !snapshot.classNodes().contains(node)
        && !type.is(TypeInfo.Trait.TEXT)
        && !type.name().startsWith("java.lang.")
        && snapshot.rootsOf(node).isEmpty();
  }

  private boolean isService(int node) {
    int t = snapshot.type(node);
    TypeInfo type = snapshot.types().get(t);
    return snapshot.counts(t).count() <= MOST_ALIKE
        && !type.array()
        && !ClosureNames.isOfLambda(type.name())
        && !ClosureNames.isClosure(type.name())
        && ownership.of(type) == Ownership.Whose.OWN;
  }
}
