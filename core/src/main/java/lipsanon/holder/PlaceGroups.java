package lipsanon.holder;

import java.io.IOException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;
import lipsanon.index.Via;
import lipsanon.label.Families;
import lipsanon.label.Labels;

/**
 * Groups the objects of several snapshots into places below one place: by how they are held and
 * what they are. What a program names anew each time, as the keys of a table, the classes that it
 * makes or the pieces of a queue, is one place.
 */
final class PlaceGroups {
  /** Names that come or go, at least so many, are the keys of a table. */
  private static final int MANY_KEYS = 5;

  /** An object has the ends of one queue, or of a few; with more places of a type it is a table. */
  private static final int MOST_ENDS = 60;

  private final List<Snapshot> snapshots;
  private final List<String[]> families;
  private final Place parent;

  /** By reference and type. */
  private final Map<String, Map<String, Place>> byVia = new LinkedHashMap<>();

  /** By type: what a plain object holds by names. */
  private final Map<String, List<Place>> byType = new HashMap<>();

  /** By reference and stem of the name: classes, of which a program may make ever more. */
  private final Map<List<String>, List<Place>> classes = new LinkedHashMap<>();

  /**
   * @param families by snapshot and type
   */
  PlaceGroups(List<Snapshot> snapshots, List<String[]> families, Place parent) {
    this.snapshots = snapshots;
    this.families = families;
    this.parent = parent;
  }

  Place add(int s, int node, String via, boolean named, boolean nested) throws IOException {
    Snapshot snapshot = snapshots.get(s);
    TypeInfo info = snapshot.types().get(snapshot.type(node));
    String type = families.get(s)[snapshot.type(node)];
    boolean library = info.library();
    String label = info.classNode() >= 0 && info.plain() ? Labels.of(snapshot, node) : "";
    if (!label.isEmpty()) {
      // a class object is what it stands for
      type = Families.of(label);
      library = false;
    }
    Map<String, Place> byTypeHere = byVia.computeIfAbsent(via, key -> new HashMap<>());
    Place place = byTypeHere.get(type);
    if (place == null) {
      place = new Place(parent, type, via, library, info.traits(), snapshots.size());
      byTypeHere.put(type, place);
      if (named && parent.is(TypeInfo.Trait.PLAIN)) {
        byType.computeIfAbsent(type, key -> new ArrayList<>()).add(place);
      }
      if (!label.isEmpty()) {
        classes
            .computeIfAbsent(List.of(via, Families.stem(type)), key -> new ArrayList<>())
            .add(place);
      }
    }
    place.add(s, node, snapshot.retainedBytes(node), nested);
    return place;
  }

  /**
   * What comes and goes under ever other names is in a table, and is one place; so is what grows
   * under each of several names.
   */
  private void joinTables(List<Place> places) {
    int last = snapshots.size() - 1;
    joinGrownTables(places, last);
    for (List<Place> named : byType.values()) {
      int changing = 0;
      int growing = 0;
      for (Place place : named) {
        changing += place.heads.get(0).isEmpty() != place.heads.get(last).isEmpty() ? 1 : 0;
        growing += Place.growth(place.bytes) > 0 ? 1 : 0;
      }
      if (changing >= MANY_KEYS || growing >= MANY_KEYS) {
        String keys = new Via(Via.Kind.KEY, parent.type, "", -1).group();
        joined(named, named.get(0).type, keys, places);
      }
    }
  }

  /** Puts one place for several. */
  private Place joined(List<Place> several, String type, String via, List<Place> places) {
    Place first = several.get(0);
    Place one = new Place(parent, type, via, first.library, first.traits, snapshots.size());
    several.forEach(one::addHeads);
    places.removeAll(new HashSet<>(several));
    places.add(one);
    return one;
  }

  /** What was an object with a few properties may have become a table: its names are keys now. */
  private void joinGrownTables(List<Place> places, int last) {
    String keys = new Via(Via.Kind.KEY, parent.type, "", -1).group();
    for (Map.Entry<String, List<Place>> named : byType.entrySet()) {
      Place table = byVia.getOrDefault(keys, Map.of()).get(named.getKey());
      if (table == null) {
        continue;
      }
      List<Place> gone = new ArrayList<>();
      for (Place place : named.getValue()) {
        if (place.heads.get(last).isEmpty()) {
          table.addHeads(place);
          gone.add(place);
        }
      }
      places.removeAll(new HashSet<>(gone));
      named.getValue().removeAll(gone);
    }
  }

  /** Classes that are made one after the other, with numbers in their names, are one place. */
  private void joinMadeClasses(List<Place> places) {
    for (Map.Entry<List<String>, List<Place>> entry : classes.entrySet()) {
      List<Place> alike = entry.getValue();
      if (alike.stream().filter(place -> Families.isNumbered(place.type)).count() >= MANY_KEYS) {
        String via = entry.getKey().get(0);
        String name = entry.getKey().get(1) + "…";
        joined(alike, name, via, places);
      }
    }
  }

  /**
   * A library's table may have its entries in several sorts, those that share a place with others
   * apart: {@code Entry} and {@code LinkedEntry} are one place.
   */
  private void joinSorts(List<Place> places) {
    // of a heap's classes there may be ten thousand places: only those of one nest are compared
    Map<List<String>, List<Place>> nests = new LinkedHashMap<>();
    for (Place place : places) {
      int nested = place.type.indexOf('$') + 1;
      if (nested > 0 && (place.library || place.is(TypeInfo.Trait.FOREIGN))) {
        List<String> nest = List.of(place.via, place.type.substring(0, nested));
        nests.computeIfAbsent(nest, key -> new ArrayList<>()).add(place);
      }
    }
    for (List<Place> nest : nests.values()) {
      nest.sort(Comparator.comparingInt(place -> place.type.length()));
      while (nest.size() > 1) {
        Place plain = nest.remove(0);
        List<Place> sorts = new ArrayList<>(nest);
        sorts.removeIf(sort -> !isSortOf(sort.type, plain.type));
        if (!sorts.isEmpty()) {
          nest.removeAll(sorts);
          Set<String> others = new HashSet<>();
          sorts.forEach(sort -> others.add(sort.type));
          sorts.add(0, plain);
          joined(sorts, plain.type, plain.via, places).sorts = others;
        }
      }
    }
  }

  /** Whether a class nested where another one is, or deeper, has that one's name behind more. */
  private static boolean isSortOf(String sort, String plain) {
    int nested = plain.lastIndexOf('$') + 1;
    return sort.length() > plain.length()
        && sort.startsWith(plain.substring(0, nested))
        && sort.endsWith(plain.substring(nested));
  }

  /** The last of some pieces that go on in each other is held twice: it is with the first. */
  private void joinPieces(List<Place> places) throws IOException {
    Map<String, List<Place>> byType = new LinkedHashMap<>();
    for (Place place : places) {
      if (LinkedArrays.canGoOn(place)) {
        byType.computeIfAbsent(place.type, key -> new ArrayList<>()).add(place);
      }
    }
    for (List<Place> alike : byType.values()) {
      for (Place last : List.copyOf(alike)) {
        boolean several = alike.size() > 1 && alike.size() <= MOST_ENDS && alike.contains(last);
        Place first = several ? firstPieces(last, alike) : null;
        if (first != null) {
          List<Place> both = List.of(first, last);
          alike.removeAll(both);
          alike.add(joined(both, first.type, first.via, places));
        }
      }
    }
  }

  /** The place of the pieces that lead to those of another one, or null. */
  private Place firstPieces(Place last, List<Place> alike) throws IOException {
    for (int s = 0; s < snapshots.size(); s++) {
      if (last.heads.get(s).size() == 1) {
        int first = LinkedArrays.first(snapshots.get(s), last.heads.get(s).get(0));
        for (Place place : alike) {
          if (first >= 0 && place != last && place.heads.get(s).contains(first)) {
            return place;
          }
        }
      }
    }
    return null;
  }

  /** The places, those joined that are one. */
  List<Place> places() throws IOException {
    List<Place> places = new ArrayList<>();
    byVia.values().forEach(types -> places.addAll(types.values()));
    places.forEach(Place::settle);
    joinTables(places);
    joinMadeClasses(places);
    joinSorts(places);
    joinPieces(places);
    return places;
  }
}
