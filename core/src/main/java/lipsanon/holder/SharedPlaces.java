package lipsanon.holder;

import java.io.IOException;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import lipsanon.array.IntList;
import lipsanon.index.Snapshot;
import lipsanon.index.Via;
import lipsanon.label.Links;

/**
 * Takes apart a place whose objects have in common only that each is held from several sides: the
 * tables of quite different owners are such a place where a class loader has all of them below it.
 * They are told apart by the fields that refer to them, as far as these are there in each snapshot.
 */
final class SharedPlaces {
  /** Objects that are looked at in each snapshot at most. */
  private static final int MOST_OBJECTS = 20_000;

  /** References that are looked at of each at most. */
  private static final int MOST_LINKS = 12;

  /** What comes and goes between the parts may be so much of what the whole grew by. */
  private static final double MOST_MOVED = 1.5;

  private static final Set<Via.Kind> NAMED =
      EnumSet.of(
          Via.Kind.FIELD,
          Via.Kind.STATIC,
          Via.Kind.PROPERTY,
          Via.Kind.VARIABLE,
          Via.Kind.LIBRARY_VARIABLE,
          Via.Kind.RUNTIME_VARIABLE,
          Via.Kind.GLOBAL,
          Via.Kind.UNNAMED);

  private final List<Snapshot> snapshots;
  private final List<Links> links = new ArrayList<>();
  private final ReferenceGroups references;

  SharedPlaces(List<Snapshot> snapshots, ReferenceGroups references) {
    this.snapshots = snapshots;
    this.references = references;
    for (Snapshot snapshot : snapshots) {
      links.add(new Links(snapshot));
    }
  }

  /**
   * Whether there is something to take apart: several objects of a type that the runtime has for
   * everybody. Those of a program's own type are alike in more than that.
   */
  private boolean isMixed(Place place) {
    boolean mixed =
        place.library
            && !place.apart
            && place.via.equals(Place.SHARED)
            && place.loopOf == null
            && !place.loops;
    for (int s = 0; s < snapshots.size() && mixed; s++) {
      int count = place.heads.get(s).size();
      mixed = count > 1 && count <= MOST_OBJECTS;
    }
    return mixed;
  }

  /**
   * The places that a place is made of, their objects not yet counted.
   *
   * @return none if it is one, or cannot be taken apart for sure
   */
  List<Place> parts(Place place) throws IOException {
    if (!isMixed(place)) {
      return List.of();
    }
    List<List<Set<String>>> names = new ArrayList<>();
    Set<String> lasting = null;
    for (int s = 0; s < snapshots.size(); s++) {
      List<Set<String>> here = names(s, place.heads.get(s));
      names.add(here);
      Set<String> all = new HashSet<>();
      here.forEach(all::addAll);
      if (lasting == null) {
        lasting = all;
      } else {
        lasting.retainAll(all);
      }
    }
    Map<String, Place> parts = new LinkedHashMap<>();
    for (int s = 0; s < snapshots.size(); s++) {
      IntList heads = place.heads.get(s);
      for (int i = 0; i < heads.size(); i++) {
        String name = "";
        for (String known : names.get(s).get(i)) {
          name = name.isEmpty() && lasting.contains(known) ? known : name;
        }
        Place part = parts.computeIfAbsent(name, key -> place.part());
        part.apart = true;
        part.add(s, heads.get(i), snapshots.get(s).retainedBytes(heads.get(i)), false);
      }
    }
    return parts.size() > 1 && !hasMoved(place, parts) ? List.copyOf(parts.values()) : List.of();
  }

  /** Whether objects changed from one part to another during the series, so that none is sure. */
  private static boolean hasMoved(Place place, Map<String, Place> parts) {
    long risen = 0;
    for (Place part : parts.values()) {
      risen += Math.max(0, Place.growth(part.bytes));
    }
    return risen > MOST_MOVED * Place.growth(place.bytes);
  }

  /** By object: the fields that refer to it, in order. */
  private List<Set<String>> names(int s, IntList heads) throws IOException {
    List<Set<String>> names = new ArrayList<>(heads.size());
    for (int i = 0; i < heads.size(); i++) {
      Set<String> here = new TreeSet<>();
      for (Links.Link link : links.get(s).into(heads.get(i), MOST_LINKS)) {
        if (NAMED.contains(link.via().kind())) {
          here.add(references.of(link.via()));
        }
      }
      names.add(here);
    }
    return names;
  }
}
