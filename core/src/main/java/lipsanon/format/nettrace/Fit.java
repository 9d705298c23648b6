package lipsanon.format.nettrace;

import java.util.LinkedHashSet;
import java.util.Map;
import java.util.Set;
import java.util.function.LongFunction;

/** Whether an object may stand where something of a type is declared. */
final class Fit {
  private static final String OBJECT = "System.Object";
  private static final String ARRAYS = "[]";
  private static final int DEEPEST = 8;
  private static final int LONGEST = 2000;

  /** In front of each of several things that a place may have: of objects as such no others. */
  private static final String ONE_OF = "\n";

  /** What the runtime keeps in fields that are declared as objects. */
  private static final Map<String, String> NARROWER =
      Map.of(
          "System.Threading.Tasks.Task.m_continuationObject",
          oneOf(
              "System.Action",
              "System.Threading.Tasks.TaskContinuation",
              "System.Threading.Tasks.ITaskCompletionAction",
              "System.Runtime.CompilerServices.IAsyncStateMachineBox",
              "System.Collections.Generic.List",
              OBJECT));

  /** Whether a field is null in all objects of a type, though its class declares it. */
  static boolean isNeverSet(String type, String owner, String field) {
    return owner.equals("System.Threading.Tasks.Task")
        && field.equals("m_stateObject")
        && type != null
        && (type.endsWith(".AsyncStateMachineBox") || type.startsWith(owner + ".DelayPromise"));
  }

  private static String oneOf(String... declared) {
    return ONE_OF + String.join(ONE_OF, declared);
  }

  /** What a field may have, by its class and name, where that is less than it is declared as. */
  static String narrower(String owner, String field, String declared) {
    return declared.equals(OBJECT)
        ? NARROWER.getOrDefault(owner + "." + field, declared)
        : declared;
  }

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
    return kinds == null || in(kinds, declared);
  }

  /**
   * Whether objects of some kinds may stand where something is declared. Of what an object is
   * itself its kinds have the arguments, of what it extends they do not.
   */
  static boolean in(Set<String> kinds, String declared) {
    if (declared.startsWith(ONE_OF)) {
      for (String one : declared.substring(ONE_OF.length()).split(ONE_OF)) {
        if (one.equals(OBJECT) ? kinds.size() == 1 && kinds.contains(one) : in(kinds, one)) {
          return true;
        }
      }
      return false;
    }
    if (takesAll(declared) || kinds.contains(declared)) {
      return true;
    }
    int arguments = declared.indexOf('<', 1);
    if (arguments < 0 || declared.lastIndexOf('>') < arguments) {
      return false;
    }
    String arrays = declared.substring(declared.lastIndexOf('>') + 1);
    String begin = declared.substring(0, arguments);
    if (!kinds.contains(begin + arrays)) {
      return false;
    }
    for (String kind : kinds) {
      if (kind.startsWith(begin) && kind.startsWith("<", arguments)) {
        return false;
      }
    }
    return true;
  }

  /**
   * A type's name with its arguments; null where one is not known, or it is very long.
   *
   * @param names by the number of a type its name without arguments, or null
   */
  static String full(
      long id, Map<Long, HeapEvents.RawType> raw, LongFunction<String> names, int depth) {
    HeapEvents.RawType type = raw.get(id);
    if (type == null || depth > DEEPEST) {
      return null;
    }
    long[] arguments = type.arguments();
    if ((type.flags() & NettraceTypes.ARRAY) != 0) {
      String part = arguments.length == 1 ? full(arguments[0], raw, names, depth + 1) : null;
      return part == null ? null : part + ARRAYS;
    }
    String name = names.apply(id);
    if (name == null || arguments.length == 0) {
      return name;
    }
    StringBuilder text = new StringBuilder(name).append('<');
    for (int i = 0; i < arguments.length; i++) {
      String argument = full(arguments[i], raw, names, depth + 1);
      if (argument == null || text.length() > LONGEST) {
        return null;
      }
      text.append(i == 0 ? "" : ", ").append(argument);
    }
    return text.append('>').toString();
  }

  /** All that a place may be declared as where objects of a type stand; null: not known. */
  static Set<String> kinds(
      HeapEvents.RawType type, Map<Long, HeapEvents.RawType> raw, NameBook book, int depth) {
    if ((type.flags() & NettraceTypes.ARRAY) == 0) {
      NameBook.Type known = book.types.get(type.id());
      boolean plain = known == null || type.arguments().length == 0;
      // delegates may stand where other arguments are declared
      if (plain || (type.flags() & NettraceTypes.DELEGATE) != 0) {
        return known == null ? null : known.kinds();
      }
      Set<String> kinds = new LinkedHashSet<>(known.kinds());
      String full = full(type.id(), raw, id -> name(book, id), depth);
      if (full != null) {
        kinds.add(full);
      }
      return kinds;
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
        type.arguments().length == 1 && depth < DEEPEST ? raw.get(type.arguments()[0]) : null;
    Set<String> inner = element == null ? null : kinds(element, raw, book, depth + 1);
    if (inner == null) {
      return element == null ? named(type, kinds) : null;
    }
    inner.forEach(one -> kinds.add(one + ARRAYS));
    return kinds;
  }

  private static String name(NameBook book, long type) {
    NameBook.Type known = book.types.get(type);
    return known == null ? null : known.name();
  }

  /** Where the elements' type is not described: by the name, without arguments. */
  private static Set<String> named(HeapEvents.RawType type, Set<String> kinds) {
    String name = NettraceTypes.name(type);
    int arguments = name.indexOf('<');
    kinds.add(arguments < 0 ? name : name.substring(0, arguments) + ARRAYS);
    return kinds;
  }
}
