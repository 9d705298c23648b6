package lipsanon.index;

/**
 * Where in an object a reference stands.
 *
 * @param kind the sort of place
 * @param owner the type that declares a field, or the method of a local variable; "" where it means
 *     nothing
 * @param name a field's name; "" where it means nothing
 * @param index an element's index, or -1
 */
public record Via(Kind kind, String owner, String name, long index) {
  /** The sorts of places. */
  public enum Kind {
    /** A field of the instance. */
    FIELD,
    /** A static field of a class. */
    STATIC,
    /** An element of an array. */
    ELEMENT,
    /** A local variable on a thread's stack. */
    LOCAL,
    /** From an object to its class, or from a class to what the runtime notes for it. */
    INTERNAL
  }

  /** As users read it: {@code Class.field}, {@code static Class.field}, {@code [3]}. */
  public String text() {
    return switch (kind) {
      case FIELD -> owner + "." + name;
      case STATIC -> "static " + owner + "." + name;
      case ELEMENT -> "[" + index + "]";
      case LOCAL -> owner.isEmpty() ? "local variable" : "local variable in " + owner;
      case INTERNAL -> "<" + name + ">";
    };
  }

  /** The same for all elements of an array: what can be merged. */
  public String group() {
    return kind == Kind.ELEMENT ? "[]" : text();
  }
}
