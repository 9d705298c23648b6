package lipsanon.format.nettrace;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * Names that the runtime's events leave out: in what a type is nested, what its fields are called,
 * which class has a static variable.
 */
final class NameBook {
  /** By the number that the events call a type by. */
  final Map<Long, Type> types = new HashMap<>();

  /** By the place of a static variable, the class that declares it. */
  final Map<Long, String> statics = new HashMap<>();

  /** By the number of the type of its object, a static variable of a generic class. */
  final Map<Long, String> generics = new HashMap<>();

  /**
   * A type.
   *
   * @param name in full, without arguments
   * @param nested whether it stands in another
   * @param foreign whether a library has it that the program brings along
   * @param slots its references, in the order in which the events tell them
   * @param kinds names of what it is: itself, what it extends, its interfaces
   */
  record Type(String name, boolean nested, boolean foreign, List<Slot> slots, Set<String> kinds) {}

  /**
   * A place for a reference in an object.
   *
   * @param owner the class that declares the field
   * @param path names of fields, with dots where structures stand in the object
   * @param declared what it may refer to, without arguments; "": anything
   */
  record Slot(String owner, String path, String declared) {}
}
