package lipsanon.format.v8;

import java.io.IOException;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.List;
import java.util.Set;
import lipsanon.array.IntArray;
import lipsanon.index.TypeInfo;

/**
 * Tells the user's own types from the runtime's and from those of packages that the program brings
 * along, by the script that their constructor stands in. V8 notes the constructor's place with the
 * objects.
 */
final class V8OwnTypes {
  /** Objects of a type that are looked at: two classes may share a name. */
  private static final int SAMPLES = 8;

  private final V8Scripts scripts;
  private final V8Locations locations;

  V8OwnTypes(V8Rows rows, V8Locations locations) {
    this.scripts = new V8Scripts(rows);
    this.locations = locations;
  }

  /**
   * The same types, those of the runtime marked as its library, and classes by their written names.
   *
   * @param type by object; changed for those whose class shared its name with others
   */
  List<TypeInfo> mark(List<TypeInfo> named, IntArray type) throws IOException {
    List<TypeInfo> types = WrittenClasses.name(scripts, locations, named, type);
    int[] samples = new int[types.size()];
    boolean[] isOwn = new boolean[types.size()];
    boolean[] isForeign = new boolean[types.size()];
    for (int row = 0; row < locations.count(); row++) {
      int t = type.get(locations.object(row));
      if (!types.get(t).library() && samples[t]++ < SAMPLES) {
        V8Scripts.Location place = scripts.place(locations.script(row), locations.place(row));
        boolean foreign = V8Scripts.isForeign(place.script());
        isOwn[t] |= !foreign && !V8Scripts.isLibrary(place.script());
        isForeign[t] |= foreign;
      }
    }
    List<TypeInfo> marked = new ArrayList<>(types.size());
    for (int t = 0; t < types.size(); t++) {
      TypeInfo info = types.get(t);
      Set<TypeInfo.Trait> traits = EnumSet.noneOf(TypeInfo.Trait.class);
      traits.addAll(info.traits());
      if (!isOwn[t]) {
        traits.add(isForeign[t] ? TypeInfo.Trait.FOREIGN : TypeInfo.Trait.LIBRARY);
        if (!isForeign[t] && info.name().equals(V8Format.MODULE)) {
          traits.add(TypeInfo.Trait.MODULE);
        }
      }
      marked.add(new TypeInfo(info.name(), "", -1, traits));
    }
    return marked;
  }
}
