package lipsanon.index;

/**
 * Where in an object a reference stands.
 *
 * @param kind the sort of place
 * @param owner the type that declares a field, the method of a local variable, in words where a
 *     variable is ({@code in the scope of ...}); "" where it means nothing
 * @param name a field's name, of an element the field in it; "" where it means nothing
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
    /** A variable of a function or module that functions keep; the owner says the scope. */
    VARIABLE,
    /** The same in a library that the program brings along. */
    LIBRARY_VARIABLE,
    /** A variable of one of the runtime's own modules: it lasts as long as the program. */
    RUNTIME_VARIABLE,
    /** A variable of a namespace, which is the owner: it lasts as long as the program. */
    GLOBAL,
    /** A named property of an object without declared fields. */
    PROPERTY,
    /** An entry of an object that is used as a table: its name is a key. */
    KEY,
    /** What an object has the runtime keep for it: its event listeners, the timers. */
    SERVICE,
    /** To a part that the runtime keeps apart: the table of a map, the scope of a function. */
    PART,
    /** A field whose name is not known: the owner has it, the name is the type of its object. */
    UNNAMED,
    /** From an object to its class, or from a class to what the runtime notes for it. */
    INTERNAL
  }

  /** As users read it: {@code Class.field}, {@code static Class.field}, {@code [3]}. */
  public String text() {
    return switch (kind) {
      case FIELD, PROPERTY -> owner + "." + name;
      case VARIABLE, LIBRARY_VARIABLE, RUNTIME_VARIABLE ->
          "variable `" + name + "`" + (owner.isEmpty() ? "" : " " + owner);
      case GLOBAL -> "variable `" + owner + "/" + name + "`";
      case KEY -> owner + "[\"" + name + "\"]";
      case STATIC -> "static " + owner + "." + name;
      case ELEMENT -> (index < 0 ? "[]" : "[" + index + "]") + inside();
      case LOCAL ->
          "local variable"
              + (name.isEmpty() ? "" : " `" + name + "`")
              + (owner.isEmpty() ? "" : " in " + owner);
      case UNNAMED -> "a field of " + owner + " (" + name + ")";
      case SERVICE -> name;
      case PART, INTERNAL -> index >= 0 ? "its part " + index : "its " + words();
    };
  }

  /** The runtime's names for what it keeps of an object, as a user would say them. */
  private String words() {
    return switch (name) {
      case "__proto__" -> "prototype";
      case "map" -> "shape";
      case "context" -> "scope";
      case "previous" -> "outer scope";
      case "shared" -> "code";
      default -> name;
    };
  }

  /** The field of an element that is a structure. */
  private String inside() {
    return name.isEmpty() ? "" : "." + name;
  }

  /** The text with names of properties behind it: what is reached from here through them. */
  public String with(String names) {
    return switch (kind) {
      case VARIABLE, LIBRARY_VARIABLE, RUNTIME_VARIABLE ->
          new Via(kind, owner, name + names, index).text();
        // how the runtime keeps these is its own affair
      case SERVICE -> text();
      default -> text() + names;
    };
  }

  /** The same for all elements of an array and all entries of a table: what can be merged. */
  public String group() {
    return switch (kind) {
      case ELEMENT -> "[]" + inside();
      case KEY -> owner + "[…]";
      case PART -> index >= 0 ? "[]" : text();
      default -> text();
    };
  }
}
