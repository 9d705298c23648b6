package lipsanon.label;

import java.util.Comparator;
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

  /** Whose a type is, by its name; the user's where there are no objects of it. */
  Whose ofType(String name) {
    return types.getOrDefault(name, Whose.OWN);
  }

  /** Whose the field, variable or method is in which a reference stands. */
  public Whose of(Via via) {
    return switch (via.kind()) {
      case FIELD, STATIC, UNNAMED -> ofType(via.owner());
        // of functions, somebody's own have static fields
      case PROPERTY -> types.getOrDefault(via.owner(), Whose.LIBRARY);
      case SERVICE -> Whose.OWN;
        // a function that an object made for itself keeps the object, but is not its holder
      case VARIABLE -> via.name().equals("this") ? Whose.RUNTIME : Whose.OWN;
      case LIBRARY_VARIABLE -> Whose.LIBRARY;
      case LOCAL -> ofMethod(via.owner());
      default -> Whose.RUNTIME;
    };
  }

  /**
   * Whose a variable is that is a root, named as {@code Class.field}, or by the field alone where
   * no more is known. There may be no object of the class: then the types decide that share the
   * first part of its name.
   */
  public Whose ofVariable(String name) {
    int dot = name.lastIndexOf('.');
    if (dot <= 0) {
      return Whose.OWN;
    }
    Whose known = types.get(name.substring(0, dot));
    if (known != null) {
      return known;
    }
    String first = name.substring(0, name.indexOf('.') + 1);
    return types.entrySet().stream()
        .filter(type -> type.getKey().startsWith(first))
        .map(Map.Entry::getValue)
        .min(Comparator.naturalOrder())
        .orElse(Whose.OWN);
  }

  /** Whose a method is, named as frames are: {@code Class.method (File:line)}. */
  Whose ofMethod(String method) {
    int end = method.indexOf(" (");
    String name = end < 0 ? method : method.substring(0, end);
    int dot = name.lastIndexOf('.');
    return dot <= 0 ? Whose.RUNTIME : types.getOrDefault(name.substring(0, dot), Whose.RUNTIME);
  }
}
