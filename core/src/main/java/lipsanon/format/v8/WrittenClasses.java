package lipsanon.format.v8;

import java.io.IOException;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import lipsanon.array.IntArray;
import lipsanon.array.LongIntMap;
import lipsanon.index.TypeInfo;

/**
 * Gives the classes of a made script the names that they were written with, by the places of their
 * constructors. Short names are given to many: classes that share one become types of their own.
 */
final class WrittenClasses {
  private final V8Scripts scripts;
  private final V8Locations locations;
  private final List<TypeInfo> types;
  private final IntArray type;

  /** By script and place of a constructor: the row of what is known of it. */
  private final Map<Integer, LongIntMap> rows = new HashMap<>();

  private final List<Known> known = new ArrayList<>();

  /** A constructor: the type of its objects, and the name it was written with, "" if not known. */
  private record Known(int type, String name, boolean foreign) {}

  private WrittenClasses(
      V8Scripts scripts, V8Locations locations, List<TypeInfo> types, IntArray type) {
    this.scripts = scripts;
    this.locations = locations;
    this.types = new ArrayList<>(types);
    this.type = type;
  }

  /**
   * Names types.
   *
   * @param type by object; changed for those whose class shared its short name
   * @return the types, further ones behind them
   */
  static List<TypeInfo> name(
      V8Scripts scripts, V8Locations locations, List<TypeInfo> types, IntArray type)
      throws IOException {
    return scripts.anyMade() ? new WrittenClasses(scripts, locations, types, type).name() : types;
  }

  private List<TypeInfo> name() throws IOException {
    // by type and constructor: number of objects
    Map<Integer, Map<Known, int[]>> counts = new LinkedHashMap<>();
    for (int row = 0; row < locations.count(); row++) {
      Known one = constructor(row);
      if (one != null) {
        counts.computeIfAbsent(one.type(), key -> new LinkedHashMap<>())
            .computeIfAbsent(one, key -> new int[1])[0]++;
      }
    }
    Map<Known, Integer> given = give(counts);
    for (int row = 0; row < locations.count(); row++) {
      Integer to = given.get(constructor(row));
      if (to != null) {
        type.set(locations.object(row), to);
      }
    }
    return types;
  }

  /** What is known of the constructor of a row's object; null if nothing. */
  private Known constructor(int row) throws IOException {
    int t = type.get(locations.object(row));
    TypeInfo info = types.get(t);
    if (info.library() || info.is(TypeInfo.Trait.PLAIN)) {
      return null;
    }
    int script = locations.script(row);
    long place = locations.place(row);
    LongIntMap ofScript = rows.computeIfAbsent(script, key -> new LongIntMap());
    int at = ofScript.get(place);
    if (at < 0) {
      String name = scripts.writtenClass(script, place, info.name());
      boolean foreign = V8Scripts.isForeign(scripts.place(script, place).script());
      at = known.size();
      known.add(new Known(t, name, foreign));
      ofScript.put(place, at);
    }
    // a constructor may give its objects another name
    return known.get(at).type() == t ? known.get(at) : null;
  }

  /** Which type the objects of a constructor get, where that is another than they have. */
  private Map<Known, Integer> give(Map<Integer, Map<Known, int[]>> counts) {
    Set<String> taken = new HashSet<>();
    types.forEach(info -> taken.add(info.name()));
    Map<String, Known> first = new HashMap<>();
    Map<Known, Integer> given = new HashMap<>();
    counts.forEach(
        (t, constructors) -> {
          boolean all = constructors.keySet().stream().noneMatch(one -> one.name().isEmpty());
          List<Known> often = new ArrayList<>(constructors.keySet());
          often.sort((a, b) -> constructors.get(b)[0] - constructors.get(a)[0]);
          boolean free = all;
          for (Known one : often) {
            Known other = first.get(one.name());
            if (one.name().isEmpty() || one.name().equals(types.get(t).name())) {
              continue;
            }
            if (other != null && other.foreign() == one.foreign() && given.containsKey(other)) {
              given.put(one, given.get(other));
            } else if (taken.add(one.name())) {
              first.put(one.name(), one);
              given.put(one, free ? renamed(t, one.name()) : added(t, one.name()));
              free = false;
            }
          }
        });
    return given;
  }

  private int renamed(int t, String name) {
    types.set(t, named(t, name));
    return t;
  }

  private int added(int t, String name) {
    types.add(named(t, name));
    return types.size() - 1;
  }

  private TypeInfo named(int t, String name) {
    Set<TypeInfo.Trait> traits = EnumSet.noneOf(TypeInfo.Trait.class);
    traits.addAll(types.get(t).traits());
    return new TypeInfo(name, "", -1, traits);
  }
}
