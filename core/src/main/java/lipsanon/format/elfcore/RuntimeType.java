package lipsanon.format.elfcore;

/** A type as the runtime keeps it in a method table. */
final class RuntimeType {
  static final int ARRAY_MASK = 0xf0000;
  static final int VECTOR = 0xa0000;
  static final int OTHER_ARRAY = 0x80000;
  static final int CATEGORY_MASK = 0xc0000;
  static final int VALUE = 0x40000;
  static final int COMPONENTS = 0x8000_0000;
  static final int COLLECTIBLE = 0x200000;
  static final int HAS_REFERENCES = 0x1000000;
  static final int GENERIC_MASK = 0x30;

  /** Address of the table. */
  final long address;

  final int flags;

  /** Bytes of an object without components. */
  final long baseBytes;

  /** Of each component (character, element); 0 for others. */
  final int componentBytes;

  /** The type that it extends, or 0. */
  final long parent;

  /** The module that declares it; null only for free blocks. */
  final RuntimeModule module;

  /** Its row in the module's types. */
  final int row;

  /** The table that shares its code with it, or itself. */
  final long canonical;

  final long eeClass;

  /** The types of its parameters as handles, or none. */
  final long[] arguments;

  /** The element type's handle of an array, or 0. */
  final long element;

  /** Of an array; 0 for others. */
  final int rank;

  /**
   * Where references stand in an object: begins and lengths in bytes; in arrays of references the
   * length counts from the whole size, as in the runtime's own description.
   */
  long[] runStart = {};

  long[] runBytes = {};

  /**
   * In arrays of structures: how many references follow each other, and how many bytes then not.
   */
  int[] structCounts = {};

  int[] structSkips = {};
  long structStart;

  /** As C# writes it; set once. */
  String name = "";

  /** Its number among the types that have objects, or -1. */
  int number = -1;

  RuntimeType(
      long address,
      int flags,
      long baseBytes,
      long parent,
      RuntimeModule module,
      int row,
      long canonical,
      long eeClass,
      long[] arguments,
      long element,
      int rank) {
    this.address = address;
    this.flags = flags;
    this.baseBytes = baseBytes;
    this.componentBytes = (flags & COMPONENTS) != 0 ? flags & 0xffff : 0;
    this.parent = parent;
    this.module = module;
    this.row = row;
    this.canonical = canonical;
    this.eeClass = eeClass;
    this.arguments = arguments;
    this.element = element;
    this.rank = rank;
  }

  static boolean isArray(int flags) {
    int kind = flags & ARRAY_MASK;
    return kind == VECTOR || kind == OTHER_ARRAY;
  }

  boolean array() {
    return isArray(flags);
  }

  boolean vector() {
    return (flags & ARRAY_MASK) == VECTOR;
  }

  boolean value() {
    return (flags & CATEGORY_MASK) == VALUE;
  }

  boolean is(int flag) {
    return (flags & flag) != 0;
  }

  /** Where an array's elements begin. */
  long dataOffset() {
    return vector() ? 16 : baseBytes - 8;
  }
}
