package lipsanon.format.nettrace;

import java.io.IOException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.LongFunction;
import lipsanon.format.dotnet.DotnetTypes;
import lipsanon.format.metadata.AssemblyTypes;
import lipsanon.format.metadata.DeclaredType;
import lipsanon.io.CorruptInputException;

/**
 * Static variables of generic classes, which the events do not tell: their objects stand in tables
 * of the runtime's. One is named by its object's type, where a single variable is declared as that
 * in all that is not the runtime's own: {@code Shelf<Crate>.items} for the list of crates, if
 * {@code Shelf<T>} has a {@code List<T>}.
 */
final class GenericStatics {
  /** Of more that are declared alike none is looked at. */
  private static final int MOST_ALIKE = 500;

  private final Map<Long, HeapEvents.RawType> raw;
  private final LongFunction<String> names;

  /** By the name of what they are declared as, without arguments. */
  private final Map<String, List<Variable>> variables = new HashMap<>();

  private record Variable(String owner, int parameters, String name, DeclaredType type) {}

  /**
   * Over the types that the events describe.
   *
   * @param names by the number of a type its name without arguments, or null
   */
  GenericStatics(Map<Long, HeapEvents.RawType> raw, LongFunction<String> names) {
    this.raw = raw;
    this.names = names;
  }

  /** Notes the variables that an assembly's classes have. */
  void collect(AssemblyTypes types) throws IOException {
    try {
      for (int row = 1; row <= types.count(); row++) {
        String plain = types.plainName(row);
        int tick = plain.lastIndexOf('`');
        if (tick < 0 || DotnetTypes.isLibrary(types.name(row))) {
          continue;
        }
        for (AssemblyTypes.Field field : types.fields(row)) {
          DeclaredType type = field.type();
          boolean told = type.reference() && !type.name().startsWith("[") && !type.name().isEmpty();
          if (field.isStatic() && told) {
            String name = DotnetTypes.fieldName(field.name());
            int parameters = parameters(plain.substring(tick + 1));
            List<Variable> alike = variables.computeIfAbsent(type.name(), n -> new ArrayList<>());
            if (alike.size() < MOST_ALIKE) {
              alike.add(new Variable(types.name(row), parameters, name, type));
            }
          }
        }
      }
    } catch (CorruptInputException e) {
      // metadata can be made hard to read on purpose: what stands before is known
      return;
    }
  }

  private static int parameters(String digits) {
    return digits.matches("[1-9]\\d?") ? Integer.parseInt(digits) : 0;
  }

  /** The variables by the number of the type of their objects. */
  Map<Long, String> find() {
    Map<Long, String> found = new HashMap<>();
    for (HeapEvents.RawType type : raw.values()) {
      Set<String> fitting = new HashSet<>();
      List<Variable> alike = variables.getOrDefault(erased(type.id()), List.of());
      for (Variable one : alike.size() < MOST_ALIKE ? alike : List.<Variable>of()) {
        String[] arguments = new String[one.parameters];
        if (fits(one.type, type.id(), arguments)) {
          fitting.add(owner(one, arguments) + "." + one.name);
        }
      }
      if (fitting.size() == 1) {
        found.put(type.id(), fitting.iterator().next());
      }
    }
    return found;
  }

  /** Without arguments, as what is declared goes by it. */
  private String erased(long id) {
    HeapEvents.RawType type = raw.get(id);
    String arrays = "";
    while (type != null
        && (type.flags() & NettraceTypes.ARRAY) != 0
        && type.arguments().length == 1
        && arrays.length() < 16) {
      arrays += "[]";
      type = raw.get(type.arguments()[0]);
    }
    String name = type == null ? null : names.apply(type.id());
    return name == null ? "" : name + arrays;
  }

  /** Whether a type is what is declared, for some parameters of the class: these are noted. */
  private boolean fits(DeclaredType declared, long id, String[] parameters) {
    HeapEvents.RawType type = raw.get(id);
    if (type == null) {
      return false;
    }
    int parameter = declared.parameter();
    if (parameter >= 0) {
      String full = Fit.full(id, raw, names, 0);
      boolean fits =
          full != null
              && parameter < parameters.length
              && (parameters[parameter] == null || parameters[parameter].equals(full));
      if (fits) {
        parameters[parameter] = full;
      }
      return fits;
    }
    long[] arguments = type.arguments();
    if (declared.part() != null) {
      boolean array = (type.flags() & NettraceTypes.ARRAY) != 0 && arguments.length == 1;
      return array && fits(declared.part(), arguments[0], parameters);
    }
    if (!declared.name().equals(names.apply(id))
        || declared.arguments().size() != arguments.length) {
      return false;
    }
    for (int i = 0; i < arguments.length; i++) {
      if (!fits(declared.arguments().get(i), arguments[i], parameters)) {
        return false;
      }
    }
    return true;
  }

  /** Without arguments where one is not known. */
  private static String owner(Variable variable, String[] arguments) {
    for (String argument : arguments) {
      if (argument == null) {
        return variable.owner;
      }
    }
    return arguments.length == 0
        ? variable.owner
        : variable.owner + "<" + String.join(", ", arguments) + ">";
  }
}
