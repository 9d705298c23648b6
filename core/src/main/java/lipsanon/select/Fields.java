package lipsanon.select;

import lipsanon.index.Via;

/** How users name the places of references. */
public final class Fields {
  private Fields() {}

  /**
   * Whether a reference stands where a name says: a field's, property's, variable's or key's name,
   * {@code []} for any element, {@code [3]} for one.
   */
  public static boolean isCalled(Via via, String name) {
    return switch (via.kind()) {
      case ELEMENT -> name.equals("[]") || name.equals("[" + via.index() + "]");
      case FIELD, STATIC, PROPERTY, KEY, VARIABLE, LIBRARY_VARIABLE, RUNTIME_VARIABLE ->
          via.name().equals(name) || (via.owner() + "." + via.name()).equals(name);
      case GLOBAL -> via.name().equals(name) || (via.owner() + "/" + via.name()).equals(name);
      case LOCAL, SERVICE, PART, UNNAMED, INTERNAL ->
          via.name().equals(name) || via.text().equals(name);
    };
  }

  /** The name by which {@link #isCalled} finds such a place again. */
  public static String name(Via via) {
    return switch (via.kind()) {
      case ELEMENT -> "[]";
      case KEY -> "[…]";
      case PART -> via.index() >= 0 ? "[]" : via.name();
      default -> via.name().isEmpty() ? via.text() : via.name();
    };
  }
}
