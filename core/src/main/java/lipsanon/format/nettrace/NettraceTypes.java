package lipsanon.format.nettrace;

import java.util.ArrayList;
import java.util.EnumSet;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.regex.Pattern;
import lipsanon.array.LongIntMap;
import lipsanon.format.dotnet.DotnetTypes;
import lipsanon.format.dotnet.ModuleKinds;
import lipsanon.index.TypeInfo;

/** Names the types of a stream as C# writes them, and says what is known of them. */
final class NettraceTypes {
  static final int DELEGATE = 0x1;
  static final int FINALIZABLE = 0x2;
  static final int ARRAY = 0x8;
  private static final int DEEPEST = 16;
  private static final int RANK_SHIFT = 8;
  private static final int RANK_MASK = 0x3f;

  private static final Pattern ARRAY_NAME = Pattern.compile(".*\\[[,*]*\\]");

  /** A type that the stream has nodes of, and does not describe. */
  static final String UNKNOWN = "(type not told)";

  private final List<TypeInfo> infos = new ArrayList<>();
  private final LongIntMap numbers = new LongIntMap();

  /** Objects of a type often stand one after another. */
  private long lastId = -1;

  private int lastNumber;
  private final ModuleKinds<Long> modules = new ModuleKinds<>();
  private final FieldNames fields = new FieldNames();

  private NettraceTypes() {}

  /** Of all types that were described, with what a capture found out of them. */
  static NettraceTypes of(Map<Long, HeapEvents.RawType> raw, NameBook book) {
    NettraceTypes types = new NettraceTypes();
    for (HeapEvents.RawType type : raw.values()) {
      if (type.module() != 0) {
        types.modules.see(type.module(), type.name());
      }
    }
    Map<String, Integer> uses = new HashMap<>();
    for (HeapEvents.RawType type : raw.values()) {
      uses.merge(name(type, raw, book, 0), 1, Integer::sum);
    }
    for (HeapEvents.RawType type : raw.values()) {
      String name = name(type, raw, book, 0);
      boolean several = uses.get(name) > 1;
      types.numbers.put(type.id(), types.infos.size());
      types.infos.add(
          new TypeInfo(
              name,
              several ? String.format("module 0x%x, token 0x%x", type.module(), type.token()) : "",
              -1,
              types.traits(type, name, innermost(type, raw, book))));
      types.fields.add(
          types.infos.size() - 1, book.types.get(type.id()), Fit.kinds(type, raw, book, 0));
    }
    return types;
  }

  /** Types that stand in two copies of one assembly, in words; or "". */
  static String loadedTwice(Map<Long, HeapEvents.RawType> raw) {
    Map<String, Set<Long>> modules = new TreeMap<>();
    for (HeapEvents.RawType type : raw.values()) {
      boolean plain = (type.flags() & (ARRAY | DELEGATE)) == 0 && !type.name().contains("[");
      boolean library = DotnetTypes.isLibrary(type.name()) || DotnetTypes.isForeign(type.name());
      if (plain && !library && type.name().contains(".")) {
        String key = type.name() + "\n" + type.token();
        modules.computeIfAbsent(key, k -> new HashSet<>()).add(type.module());
      }
    }
    modules.values().removeIf(several -> several.size() < 2);
    if (modules.isEmpty()) {
      return "";
    }
    String first = modules.keySet().iterator().next();
    int copies = 0;
    for (Set<Long> several : modules.values()) {
      copies = Math.max(copies, several.size());
    }
    return "Loaded "
        + (copies == 2 ? "twice, from two" : copies + " times, from as many")
        + " copies of an assembly: "
        + first.substring(0, first.indexOf('\n'))
        + (modules.size() > 1 ? " and " + (modules.size() - 1) + " more types." : ".");
  }

  List<TypeInfo> infos() {
    return infos;
  }

  /** What is known of the fields of these types. */
  FieldNames fields() {
    return fields;
  }

  /** What is known of a type, or of an array's elements; null: nothing. */
  private static NameBook.Type innermost(
      HeapEvents.RawType type, Map<Long, HeapEvents.RawType> raw, NameBook book) {
    HeapEvents.RawType at = type;
    for (int depth = 0; isArray(at) && depth < DEEPEST; depth++) {
      at = element(at, raw);
    }
    return at == null ? null : book.types.get(at.id());
  }

  private static boolean isArray(HeapEvents.RawType type) {
    return type != null && (type.flags() & ARRAY) != 0;
  }

  private static HeapEvents.RawType element(
      HeapEvents.RawType array, Map<Long, HeapEvents.RawType> raw) {
    return array.arguments().length == 1 ? raw.get(array.arguments()[0]) : null;
  }

  /** A name with the types that it is nested in, as far as they are known. */
  private static String name(
      HeapEvents.RawType type, Map<Long, HeapEvents.RawType> raw, NameBook book, int depth) {
    String plain = name(type);
    if (depth > DEEPEST) {
      return plain;
    }
    if (isArray(type)) {
      HeapEvents.RawType element = element(type, raw);
      boolean known = element != null && plain.endsWith("]");
      return known
          ? name(element, raw, book, depth + 1) + plain.substring(plain.lastIndexOf('['))
          : plain;
    }
    NameBook.Type known = book.types.get(type.id());
    if (known == null) {
      return plain;
    }
    int begin = type.name().indexOf('[');
    String told = begin < 0 ? "" : generic(type.name().substring(begin));
    List<String> arguments = new ArrayList<>();
    for (long id : type.arguments()) {
      HeapEvents.RawType argument = raw.get(id);
      if (argument == null) {
        return known.name() + told;
      }
      arguments.add(name(argument, raw, book, depth + 1));
    }
    return known.name() + (arguments.isEmpty() ? told : "<" + String.join(", ", arguments) + ">");
  }

  /** The number of a type by what the stream calls it. */
  int number(long id) {
    if (id == lastId) {
      return lastNumber;
    }
    int known = numbers.get(id);
    if (known < 0) {
      known = infos.size();
      numbers.put(id, known);
      infos.add(
          new TypeInfo(
              UNKNOWN, "0x" + Long.toHexString(id), -1, EnumSet.of(TypeInfo.Trait.LIBRARY)));
    }
    lastId = id;
    lastNumber = known;
    return known;
  }

  private Set<TypeInfo.Trait> traits(HeapEvents.RawType type, String name, NameBook.Type known) {
    boolean library =
        DotnetTypes.isLibrary(type.name())
            || modules.isRuntime(type.module()) && !DotnetTypes.isForeign(type.name());
    // the stream itself leaves out what a nested type stands in
    boolean within = known == null ? !name.replaceAll("<.*", "").contains(".") : known.nested();
    boolean brought = known != null && known.foreign() || modules.isLibrary(type.module());
    return DotnetTypes.traits(
        name,
        library,
        brought,
        (library || brought) && within,
        isArray(type),
        (type.flags() & DELEGATE) != 0);
  }

  /** {@code Crate`1[System.String]} with array flags becomes {@code Crate<System.String>[]}. */
  static String name(HeapEvents.RawType type) {
    String name = type.name().isEmpty() ? UNKNOWN : generic(type.name());
    // some runtimes name an array in full, others by its element alone
    if ((type.flags() & ARRAY) == 0 || ARRAY_NAME.matcher(type.name()).matches()) {
      return name;
    }
    int rank = type.flags() >>> RANK_SHIFT & RANK_MASK;
    return name + (rank < 2 ? "[]" : "[" + ",".repeat(rank - 1) + "]");
  }

  /** Arguments in angle brackets, without the numbers of them; brackets of arrays stay. */
  static String generic(String raw) {
    StringBuilder name = new StringBuilder(raw.length());
    // by open bracket: whether it is one of arguments
    StringBuilder open = new StringBuilder();
    for (int i = 0; i < raw.length(); i++) {
      char c = raw.charAt(i);
      if (c == '`') {
        while (i + 1 < raw.length() && Character.isDigit(raw.charAt(i + 1))) {
          i++;
        }
      } else if (c == '[') {
        char next = i + 1 < raw.length() ? raw.charAt(i + 1) : ']';
        boolean arguments = next != ']' && next != ',' && next != '*';
        open.append(arguments ? '<' : '[');
        name.append(arguments ? '<' : '[');
      } else if (c == ']' && open.length() > 0) {
        boolean arguments = open.charAt(open.length() - 1) == '<';
        open.setLength(open.length() - 1);
        name.append(arguments ? '>' : ']');
      } else if (c == ',' && open.length() > 0 && open.charAt(open.length() - 1) == '<') {
        name.append(", ");
      } else {
        name.append(c == '+' ? '.' : c);
      }
    }
    return name.toString();
  }
}
