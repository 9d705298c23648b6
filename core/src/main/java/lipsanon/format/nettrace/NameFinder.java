package lipsanon.format.nettrace;

import java.io.IOException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import lipsanon.format.dotnet.DotnetTypes;
import lipsanon.format.metadata.AssemblyTypes;
import lipsanon.format.metadata.DeclaredType;
import lipsanon.io.CorruptInputException;

/**
 * Looks up, in the assemblies that a process has loaded, what the events of its runtime leave out.
 * The events number modules without saying their files: a module is the one assembly that defines
 * all of its types under the numbers that the events say.
 */
final class NameFinder {
  private static final int ROW = 0xffffff;
  private static final int DEEPEST = 64;
  private static final int DEEPEST_STRUCTURE = 8;
  private static final int MOST_SLOTS = 512;

  /** Longer names of types with their arguments are cut where they are written. */
  private static final int LONGEST = 500;

  private static final long[] NONE = {};

  private final List<NettraceNames.Assembly> assemblies;
  private final Map<Long, HeapEvents.RawType> raw;
  private final Map<String, Place> byName = new HashMap<>();
  private final Map<Long, Place> places = new HashMap<>();

  /** By the events' number of a type, its name without arguments. */
  private final Map<Long, String> names = new HashMap<>();

  private final Map<Place, List<NameBook.Slot>> slots = new HashMap<>();
  private final Map<Place, Set<String>> kinds = new HashMap<>();

  /** A type in an assembly. */
  private record Place(int assembly, int row) {}

  /** Over the assemblies of a process, for the types that its events describe. */
  NameFinder(List<NettraceNames.Assembly> assemblies, Map<Long, HeapEvents.RawType> raw) {
    this.assemblies = assemblies;
    this.raw = raw;
  }

  /** Looks up all that is described. */
  NameBook find(List<HeapEvents.RawStatic> statics) throws IOException {
    Map<Long, List<HeapEvents.RawType>> modules = new LinkedHashMap<>();
    for (HeapEvents.RawType type : raw.values()) {
      if (defined(type)) {
        modules.computeIfAbsent(type.module(), m -> new ArrayList<>()).add(type);
      }
    }
    for (List<HeapEvents.RawType> types : modules.values()) {
      int assembly = assembly(types);
      for (HeapEvents.RawType type : types) {
        if (assembly >= 0) {
          Place place = new Place(assembly, type.token() & ROW);
          places.put(type.id(), place);
          names.put(type.id(), name(place));
        }
      }
    }
    for (int a = 0; a < assemblies.size(); a++) {
      index(a);
    }
    NameBook book = new NameBook();
    for (HeapEvents.RawType type : raw.values()) {
      Place place = places.get(type.id());
      NameBook.Type known = place == null ? null : type(place, type);
      if (known != null) {
        book.types.put(type.id(), known);
      }
    }
    new StaticOwners(book).find(statics);
    GenericStatics generic = new GenericStatics(raw, names::get);
    for (NettraceNames.Assembly assembly : assemblies) {
      generic.collect(assembly.types());
    }
    book.generics.putAll(generic.find());
    return book;
  }

  private void index(int assembly) throws IOException {
    AssemblyTypes types = assemblies.get(assembly).types();
    try {
      for (int row = 1; row <= types.count(); row++) {
        byName.putIfAbsent(types.name(row), new Place(assembly, row));
      }
    } catch (CorruptInputException e) {
      // metadata can be made hard to read on purpose: what stands before is known
      return;
    }
  }

  private String name(Place at) throws IOException {
    try {
      return assemblies.get(at.assembly()).types().name(at.row());
    } catch (CorruptInputException e) {
      // the same: it has none
      return null;
    }
  }

  private NameBook.Type type(Place at, HeapEvents.RawType raw) throws IOException {
    NettraceNames.Assembly assembly = assemblies.get(at.assembly());
    String name = names.get(raw.id());
    if (name == null) {
      return null;
    }
    try {
      return new NameBook.Type(
          name, assembly.types().nested(at.row()), assembly.foreign(), slots(at, raw), kinds(at));
    } catch (CorruptInputException e) {
      // the same: it goes by the name that the events have
      return null;
    }
  }

  private static boolean defined(HeapEvents.RawType type) {
    return (type.flags() & NettraceTypes.ARRAY) == 0
        && type.module() != 0
        && (type.token() & ROW) != 0;
  }

  /** The one that has all types of a module; -1: none or several. */
  private int assembly(List<HeapEvents.RawType> types) throws IOException {
    int found = -1;
    for (int a = 0; a < assemblies.size(); a++) {
      boolean all = defines(assemblies.get(a).types(), types);
      if (all && found >= 0) {
        return -1;
      }
      found = all ? a : found;
    }
    return found;
  }

  private static boolean defines(AssemblyTypes assembly, List<HeapEvents.RawType> types)
      throws IOException {
    try {
      for (HeapEvents.RawType type : types) {
        int row = type.token() & ROW;
        int end = type.name().indexOf('[');
        String name = end < 0 ? type.name() : type.name().substring(0, end);
        if (row > assembly.count() || !assembly.plainName(row).equals(name)) {
          return false;
        }
      }
    } catch (CorruptInputException e) {
      // it cannot be told
      return false;
    }
    return true;
  }

  private Place base(Place of) throws IOException {
    AssemblyTypes.Named base = assemblies.get(of.assembly()).types().base(of.row());
    return base == null ? null : place(of, base.name(), base.row());
  }

  private Place place(Place from, String name, int row) {
    return row > 0 ? new Place(from.assembly(), row) : byName.get(name);
  }

  /** What a type is: itself, what it extends, and the interfaces of all these. */
  private Set<String> kinds(Place of) throws IOException {
    Set<String> known = kinds.get(of);
    if (known == null) {
      known = new LinkedHashSet<>();
      Place at = of;
      for (int depth = 0; at != null && depth < DEEPEST; depth++) {
        AssemblyTypes types = assemblies.get(at.assembly()).types();
        known.add(types.name(at.row()));
        known.addAll(types.interfaces(at.row()));
        at = base(at);
      }
      kinds.put(of, known);
    }
    return known;
  }

  /** The references in an object, those that a class inherits first; then those in structures. */
  private List<NameBook.Slot> slots(Place of, HeapEvents.RawType raw) throws IOException {
    boolean generic = raw.arguments().length > 0;
    List<NameBook.Slot> known = generic ? null : slots.get(of);
    if (known != null) {
      return known;
    }
    List<Place> line = new ArrayList<>();
    List<long[]> arguments = new ArrayList<>();
    Place up = of;
    long[] here = raw.arguments();
    for (int depth = 0; up != null && depth < DEEPEST; depth++) {
      line.add(0, up);
      arguments.add(0, here);
      here = ofBase(up, here);
      up = base(up);
    }
    known = new ArrayList<>();
    for (int i = 0; i < line.size(); i++) {
      Place at = line.get(i);
      String owner = assemblies.get(at.assembly()).types().name(at.row());
      own(at, arguments.get(i), "", owner, 0, known);
    }
    String name = names.get(raw.id());
    known.removeIf(slot -> Fit.isNeverSet(name, slot.owner(), slot.path()));
    if (!generic) {
      slots.put(of, known);
    }
    return known;
  }

  /** What stands for the parameters of the class that a type extends; 0: not known. */
  private long[] ofBase(Place at, long[] arguments) throws IOException {
    int[] numbers = assemblies.get(at.assembly()).types().baseArguments(at.row());
    long[] found = new long[numbers.length];
    for (int i = 0; i < found.length; i++) {
      boolean known = numbers[i] >= 0 && numbers[i] < arguments.length;
      found[i] = known ? arguments[numbers[i]] : 0;
    }
    return found;
  }

  private void own(
      Place at, long[] arguments, String prefix, String owner, int depth, List<NameBook.Slot> into)
      throws IOException {
    List<AssemblyTypes.Field> fields = assemblies.get(at.assembly()).types().fields(at.row());
    List<AssemblyTypes.Field> structures = new ArrayList<>();
    for (AssemblyTypes.Field field : fields) {
      if (field.isStatic()) {
        continue;
      }
      DeclaredType type = field.type();
      if (!type.reference() || isStructure(argument(type, arguments))) {
        structures.add(field);
      } else if (into.size() < MOST_SLOTS) {
        String path = prefix + DotnetTypes.fieldName(field.name());
        String declared = Fit.narrower(owner, path, declared(type, arguments));
        into.add(new NameBook.Slot(owner, path, declared));
      }
    }
    for (AssemblyTypes.Field field : structures) {
      DeclaredType type = field.type();
      Place inner =
          type.reference() ? argument(type, arguments) : place(at, type.name(), type.row());
      if (inner != null && !inner.equals(at) && depth < DEEPEST_STRUCTURE) {
        String path = prefix + DotnetTypes.fieldName(field.name()) + ".";
        own(inner, NONE, path, owner, depth + 1, into);
      }
    }
  }

  /** A declared type's name, with its arguments where all are known. */
  private String declared(DeclaredType type, long[] arguments) {
    String full = type.full(number -> number < arguments.length ? full(arguments[number]) : null);
    return full == null || full.length() > LONGEST ? type.name() : full;
  }

  private String full(long id) {
    return Fit.full(id, raw, names::get, 0);
  }

  /** What stands for the parameter that a field's type is; null: none, or not known. */
  private Place argument(DeclaredType type, long[] arguments) {
    int number = type.parameter();
    return number < 0 || number >= arguments.length ? null : places.get(arguments[number]);
  }

  private boolean isStructure(Place at) throws IOException {
    AssemblyTypes.Named base =
        at == null ? null : assemblies.get(at.assembly()).types().base(at.row());
    return base != null && base.name().equals("System.ValueType");
  }

  /** Finds the classes of static variables, of which the events say the fields' names only. */
  private final class StaticOwners {
    private final NameBook book;
    private final Map<String, List<Place>> byField = new HashMap<>();
    private final Map<String, List<AssemblyTypes.Field>> declared = new HashMap<>();

    StaticOwners(NameBook book) {
      this.book = book;
    }

    void find(List<HeapEvents.RawStatic> statics) throws IOException {
      Set<String> wanted = new HashSet<>();
      statics.forEach(one -> wanted.add(one.name()));
      for (int a = 0; a < assemblies.size(); a++) {
        try {
          collect(a, wanted);
        } catch (CorruptInputException e) {
          // the assembly has no such fields then
          continue;
        }
      }
      TreeMap<Long, Set<String>> open = new TreeMap<>();
      for (HeapEvents.RawStatic one : statics) {
        Set<String> owners = owners(one);
        if (owners.size() == 1) {
          book.statics.put(one.slot(), owners.iterator().next());
        } else {
          open.put(one.slot(), owners);
        }
      }
      // the variables of a class stand side by side
      for (boolean more = true; more; ) {
        more = false;
        for (Map.Entry<Long, Set<String>> one : open.entrySet()) {
          long slot = one.getKey();
          for (long beside : new long[] {slot - Long.BYTES, slot + Long.BYTES}) {
            String owner = book.statics.get(beside);
            if (owner != null && one.getValue().contains(owner)) {
              more |= book.statics.putIfAbsent(slot, owner) == null;
            }
          }
        }
      }
    }

    private void collect(int assembly, Set<String> wanted) throws IOException {
      AssemblyTypes types = assemblies.get(assembly).types();
      for (int row = 1; row <= types.count(); row++) {
        for (AssemblyTypes.Field field : types.fields(row)) {
          if (field.isStatic() && wanted.contains(field.name())) {
            byField
                .computeIfAbsent(field.name(), n -> new ArrayList<>())
                .add(new Place(assembly, row));
            declared.computeIfAbsent(field.name(), n -> new ArrayList<>()).add(field);
          }
        }
      }
    }

    /** The classes that may declare a variable: its object fits the field's type. */
    private Set<String> owners(HeapEvents.RawStatic one) throws IOException {
      Set<String> found = new LinkedHashSet<>();
      List<Place> candidates = byField.getOrDefault(one.name(), List.of());
      for (int i = 0; i < candidates.size(); i++) {
        AssemblyTypes.Field field = declared.get(one.name()).get(i);
        boolean fits =
            !field.type().reference()
                || Fit.of(declared(field.type(), NONE), raw.get(one.type()), raw, book);
        if (fits) {
          Place at = candidates.get(i);
          found.add(assemblies.get(at.assembly()).types().name(at.row()));
        }
      }
      return found;
    }
  }
}
