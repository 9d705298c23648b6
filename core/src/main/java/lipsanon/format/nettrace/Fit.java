package lipsanon.format.nettrace;

import java.util.LinkedHashSet;
import java.util.Map;
import java.util.Set;

/** Whether an object may stand where something of a type is declared. */
final class Fit {
  private static final String OBJECT = "System.Object";
  private static final String ARRAYS = "[]";

  private Fit() {}

  /** Whether a place takes anything. */
  static boolean takesAll(String declared) {
    return declared.isEmpty() || declared.equals(OBJECT);
  }

  /** By what the type of the object is said to be; null, where that is not known, fits all. */
  static boolean of(
      String declared, HeapEvents.RawType type, Map<Long, HeapEvents.RawType> raw, NameBook book) {
    if (takesAll(declared) || type == null) {
      return true;
    }
    Set<String> kinds = kinds(type, raw, book, 0);
    return kinds == null || kinds.contains(declared);
  }

  /** All that a place may be declared as where objects of a type stand; null: not known. */
  static Set<String> kinds(
      HeapEvents.RawType type, Map<Long, HeapEvents.RawType> raw, NameBook book, int depth) {
    if ((type.flags() & NettraceTypes.ARRAY) == 0) {
      NameBook.Type known = book.types.get(type.id());
      return known == null ? null : known.kinds();
    }
    Set<String> kinds = new LinkedHashSet<>();
    kinds.add("System.Array");
    kinds.add(ARRAYS);
    kinds.add(OBJECT + ARRAYS);
    for (String one : new String[] {"IList", "ICollection", "IEnumerable", "IReadOnlyList"}) {
      kinds.add("System.Collections." + one);
      kinds.add("System.Collections.Generic." + one);
    }
    kinds.add("System.Collections.Generic.IReadOnlyCollection");
    HeapEvents.RawType element =
        type.arguments().length == 1 && depth < 8 ? raw.get(type.arguments()[0]) : null;
    Set<String> inner = element == null ? null : kinds(element, raw, book, depth + 1);
    if (inner == null) {
      return element == null ? named(type, kinds) : null;
    }
    inner.forEach(one -> kinds.add(one + ARRAYS));
    return kinds;
  }

  /** Where the elements' type is not described: by the name, without arguments. */
  private static Set<String> named(HeapEvents.RawType type, Set<String> kinds) {
    String name = NettraceTypes.name(type);
    int arguments = name.indexOf('<');
    kinds.add(arguments < 0 ? name : name.substring(0, arguments) + ARRAYS);
    return kinds;
  }
}
