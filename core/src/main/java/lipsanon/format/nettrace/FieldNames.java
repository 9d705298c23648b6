package lipsanon.format.nettrace;

import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import lipsanon.format.dotnet.DotnetFields;
import lipsanon.index.Via;

/**
 * Says in which fields references stand. The events tell the references of an object in the order
 * of its fields, and leave out those that are null; so a reference stands in a field if all ways to
 * lay the references on the fields, each on one whose type it fits, agree. One thread.
 */
final class FieldNames {
  private static final int MOST_ALIGNED = 128;
  private static final int NOT_KNOWN = -2;
  private static final int SEVERAL = -1;

  private final Map<Integer, List<NameBook.Slot>> slots = new HashMap<>();
  private final Map<Integer, Set<String>> kinds = new HashMap<>();

  /** By type: its fields as they are told, once each. */
  private final Map<Integer, Via[]> vias = new HashMap<>();

  /** By type and type of target: which of the fields it fits. */
  private final Map<Long, boolean[]> fitting = new HashMap<>();

  /** The same: the one field of all that it fits. */
  private final Map<Long, Integer> only = new HashMap<>();

  /** Of the types of a snapshot, by their numbers in it. */
  void add(int type, NameBook.Type named, Set<String> fits) {
    if (named != null && !named.slots().isEmpty()) {
      slots.put(type, named.slots());
    }
    if (fits != null) {
      kinds.put(type, fits);
    }
  }

  /** Whether fields are known of a type. */
  boolean knows(int type) {
    return slots.containsKey(type);
  }

  /**
   * A field of a type as it is told.
   *
   * @param name of the type, with its arguments
   */
  Via via(int type, String name, int slot) {
    Via[] of = vias.computeIfAbsent(type, t -> new Via[slots.get(t).size()]);
    if (of[slot] == null) {
      NameBook.Slot field = slots.get(type).get(slot);
      int arguments = name.indexOf('<', 1);
      boolean itself = arguments > 0 && name.substring(0, arguments).equals(field.owner());
      of[slot] = DotnetFields.via(itself ? name : field.owner(), field.path());
    }
    return of[slot];
  }

  /** The number of the field of an object's reference where its type alone tells it; else -1. */
  int alone(int type, int target) {
    List<NameBook.Slot> all = slots.get(type);
    if (all == null) {
      return SEVERAL;
    }
    return only.computeIfAbsent(
        (long) type << Integer.SIZE | target,
        key -> {
          int one = NOT_KNOWN;
          boolean[] fits = fitting(type, target);
          for (int i = 0; i < all.size(); i++) {
            if (fits[i]) {
              one = one == NOT_KNOWN ? i : SEVERAL;
            }
          }
          return one == NOT_KNOWN ? SEVERAL : one;
        });
  }

  /** By reference of an object, in the order of the stream: the number of its field, or -1. */
  int[] aligned(int type, int[] targets) {
    int[] found = new int[targets.length];
    List<NameBook.Slot> all = slots.getOrDefault(type, List.of());
    int[] first = new int[targets.length];
    int[] last = new int[targets.length];
    boolean[][] fitting = new boolean[targets.length][];
    boolean fits = all.size() <= MOST_ALIGNED && targets.length <= all.size();
    for (int i = 0, at = 0; fits && i < targets.length; i++, at++) {
      fitting[i] = fitting(type, targets[i]);
      while (at < all.size() && !fitting[i][at]) {
        at++;
      }
      first[i] = at;
      fits = at < all.size();
    }
    for (int i = targets.length - 1, at = all.size() - 1; fits && i >= 0; i--, at--) {
      while (at >= 0 && !fitting[i][at]) {
        at--;
      }
      last[i] = at;
      fits = at >= 0;
    }
    for (int i = 0; i < targets.length; i++) {
      if (!fits) {
        found[i] = alone(type, targets[i]);
        continue;
      }
      int one = NOT_KNOWN;
      for (int s = first[i]; s <= last[i]; s++) {
        if (fitting[i][s]) {
          one = one == NOT_KNOWN ? s : SEVERAL;
        }
      }
      found[i] = one == NOT_KNOWN ? SEVERAL : one;
    }
    return found;
  }

  private boolean[] fitting(int type, int target) {
    return fitting.computeIfAbsent(
        (long) type << Integer.SIZE | target,
        key -> {
          Set<String> known = kinds.get(target);
          List<NameBook.Slot> all = slots.get(type);
          boolean[] fits = new boolean[all.size()];
          for (int i = 0; i < fits.length; i++) {
            fits[i] = known == null || Fit.in(known, all.get(i).declared());
          }
          return fits;
        });
  }

  void write(DataOutputStream out) throws IOException {
    Map<String, Integer> strings = new LinkedHashMap<>();
    slots
        .values()
        .forEach(
            all ->
                all.forEach(
                    slot -> {
                      number(strings, slot.owner());
                      number(strings, slot.path());
                      number(strings, slot.declared());
                    }));
    kinds.values().forEach(all -> all.forEach(kind -> number(strings, kind)));
    out.writeInt(strings.size());
    for (String text : strings.keySet()) {
      out.writeUTF(text);
    }
    out.writeInt(slots.size());
    for (Map.Entry<Integer, List<NameBook.Slot>> entry : slots.entrySet()) {
      out.writeInt(entry.getKey());
      out.writeInt(entry.getValue().size());
      for (NameBook.Slot slot : entry.getValue()) {
        out.writeInt(number(strings, slot.owner()));
        out.writeInt(number(strings, slot.path()));
        out.writeInt(number(strings, slot.declared()));
      }
    }
    out.writeInt(kinds.size());
    for (Map.Entry<Integer, Set<String>> entry : kinds.entrySet()) {
      out.writeInt(entry.getKey());
      out.writeInt(entry.getValue().size());
      for (String kind : entry.getValue()) {
        out.writeInt(number(strings, kind));
      }
    }
  }

  private static int number(Map<String, Integer> strings, String text) {
    return strings.computeIfAbsent(text, t -> strings.size());
  }

  static FieldNames read(DataInputStream in) throws IOException {
    FieldNames names = new FieldNames();
    // counts are checked by what there is to read
    List<String> strings = new ArrayList<>();
    for (int left = in.readInt(); left > 0; left--) {
      strings.add(in.readUTF());
    }
    for (int left = in.readInt(); left > 0; left--) {
      int type = in.readInt();
      List<NameBook.Slot> all = new ArrayList<>();
      for (int some = in.readInt(); some > 0; some--) {
        all.add(new NameBook.Slot(one(strings, in), one(strings, in), one(strings, in)));
      }
      names.slots.put(type, all);
    }
    for (int left = in.readInt(); left > 0; left--) {
      int type = in.readInt();
      String[] all = new String[Math.min(in.available() / Integer.BYTES, in.readInt())];
      for (int i = 0; i < all.length; i++) {
        all[i] = one(strings, in);
      }
      names.kinds.put(type, new HashSet<>(Arrays.asList(all)));
    }
    return names;
  }

  private static String one(List<String> strings, DataInputStream in) throws IOException {
    int number = in.readInt();
    return number >= 0 && number < strings.size() ? strings.get(number) : "";
  }
}
