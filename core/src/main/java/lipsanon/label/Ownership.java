package lipsanon.label;

import java.util.HashMap;
import java.util.Map;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;
import lipsanon.index.Via;

/** Whose a type or a reference is: the user's own, a library's, or the runtime's. */
public final class Ownership {
  /** Whose. */
  public enum Whose {
    OWN,
    LIBRARY,
    RUNTIME
  }

  private final Map<String, Whose> types = new HashMap<>();
  private final TypeFilter mine;

  /** By the first part of names: whose what begins so is. */
  private final Map<String, Whose> byFirst = new HashMap<>();

  public Ownership(Snapshot snapshot, TypeFilter mine) {
    this.mine = mine;
    for (TypeInfo type : snapshot.types()) {
      // of several types with one name the user's own decides
      types.merge(type.name(), of(type), (a, b) -> a.compareTo(b) <= 0 ? a : b);
    }
  }

  /** Whose an object is: of functions the script decides, of others the type. */
  public Whose of(Snapshot snapshot, int node) throws java.io.IOException {
    return switch (snapshot.objects().code(node)) {
      case OWN -> Whose.OWN;
      case LIBRARY -> Whose.LIBRARY;
      case RUNTIME -> Whose.RUNTIME;
      case NONE -> of(snapshot.types().get(snapshot.type(node)));
    };
  }

  public Whose of(TypeInfo type) {
    return mine.isMine(type) ? Whose.OWN : type.library() ? Whose.RUNTIME : Whose.LIBRARY;
  }

  /**
   * Whose a type is, by its name. Where there are no objects of it the types decide that share the
   * first part of its name.
   */
  Whose ofType(String name) {
    return types.containsKey(name) || name.indexOf('.') < 0
        ? types.getOrDefault(name, Whose.OWN)
        : ofClass(name);
  }

  /** Whose the field, variable or method is in which a reference stands. */
  public Whose of(Via via) {
    return switch (via.kind()) {
      case FIELD, STATIC -> isMade(via.name()) ? Whose.RUNTIME : ofType(via.owner());
      case UNNAMED -> ofType(via.owner());
        // of functions, somebody's own have static fields
      case PROPERTY -> types.getOrDefault(via.owner(), Whose.LIBRARY);
      case SERVICE -> Whose.OWN;
        // a function that an object made for itself keeps the object, but is not its holder
      case VARIABLE -> via.name().equals("this") ? Whose.RUNTIME : Whose.OWN;
      case LIBRARY_VARIABLE -> Whose.LIBRARY;
      case GLOBAL -> ofNamespace(via.owner());
      case LOCAL -> ofMethod(via.owner());
      default -> Whose.RUNTIME;
    };
  }

  /**
   * Whether a field was added by what makes proxies of one's own classes while the program runs.
   */
  private static boolean isMade(String field) {
    return field.startsWith("CGLIB$")
        || field.startsWith("$$_")
        || field.equals("mockitoInterceptor");
  }

  /**
   * Whose a variable is that is a root, named as {@code Class.field}, or by the field alone where
   * no more is known: then by whether the type of its object is made of one of the user's own.
   * There may be no object of the class: then the types decide that share the first part of its
   * name.
   */
  public Whose ofVariable(String name, String objectType) {
    int dot = name.lastIndexOf('.');
    if (dot <= 0) {
      return madeOf(objectType);
    }
    return ofClass(name.substring(0, dot));
  }

  /** The user's own if a type or one of its arguments is. */
  private Whose madeOf(String type) {
    for (String part : type.split("[<>,\\[\\] ]+")) {
      if (ofClass(part) == Whose.OWN) {
        return Whose.OWN;
      }
    }
    return Whose.RUNTIME;
  }

  private Whose ofClass(String name) {
    Whose known = types.get(name);
    int first = name.indexOf('.') + 1;
    if (known != null || first == 0) {
      return known == null ? Whose.RUNTIME : known;
    }
    return byFirst.computeIfAbsent(name.substring(0, first), this::ofThoseBelow);
  }

  /** Whose the functions of a namespace are; their classes have its name, with _ for -. */
  private Whose ofNamespace(String name) {
    String made = name.replace('-', '_');
    return byFirst.computeIfAbsent(
        made + "$",
        begin ->
            types.keySet().stream().anyMatch(type -> type.startsWith(begin))
                ? ofThoseBelow(begin)
                : ofClass(made + ".x"));
  }

  /** The user's own if any of the types is whose names begin so. */
  private Whose ofThoseBelow(String begin) {
    Whose whose = null;
    for (Map.Entry<String, Whose> type : types.entrySet()) {
      boolean counts = type.getKey().startsWith(begin);
      whose =
          counts && (whose == null || type.getValue().compareTo(whose) < 0)
              ? type.getValue()
              : whose;
    }
    return whose == null ? Whose.OWN : whose;
  }

  /** Whose a method is, named as frames are: {@code Class.method (File:line)}. */
  public Whose ofMethod(String method) {
    int end = method.indexOf(" (");
    String name = end < 0 ? method : method.substring(0, end);
    int dot = name.lastIndexOf('.');
    return dot <= 0 ? Whose.RUNTIME : ofClass(name.substring(0, dot));
  }
}
