package lipsanon.format.metadata;

import java.io.IOException;

/** Reads a signature of ECMA-335 (II.23.2): compressed numbers and element types. */
public final class Signature {
  // codes of element types
  public static final int BOOLEAN = 0x02;
  public static final int CHAR = 0x03;
  public static final int I1 = 0x04;
  public static final int U1 = 0x05;
  public static final int I2 = 0x06;
  public static final int U2 = 0x07;
  public static final int I4 = 0x08;
  public static final int U4 = 0x09;
  public static final int I8 = 0x0a;
  public static final int U8 = 0x0b;
  public static final int R4 = 0x0c;
  public static final int R8 = 0x0d;
  public static final int STRING = 0x0e;
  public static final int POINTER = 0x0f;
  public static final int BY_REFERENCE = 0x10;
  public static final int VALUE_TYPE = 0x11;
  public static final int CLASS = 0x12;
  public static final int VARIABLE = 0x13;
  public static final int ARRAY = 0x14;
  public static final int GENERIC = 0x15;
  public static final int I = 0x18;
  public static final int U = 0x19;
  public static final int FUNCTION = 0x1b;
  public static final int OBJECT = 0x1c;
  public static final int VECTOR = 0x1d;
  public static final int METHOD_VARIABLE = 0x1e;
  public static final int MODIFIER_REQUIRED = 0x1f;
  public static final int MODIFIER = 0x20;

  /** In front of a field's type. */
  public static final int FIELD_HEAD = 0x06;

  private static final String[] KEYWORDS = {
    "", "void", "bool", "char", "sbyte", "byte", "short", "ushort", "int", "uint", "long", "ulong",
    "float", "double", "string", "pointer", "", "", "", "", "", "", "", "", "nint", "nuint"
  };

  private static final String[] NAMES = {
    "",
    "Void",
    "Boolean",
    "Char",
    "SByte",
    "Byte",
    "Int16",
    "UInt16",
    "Int32",
    "UInt32",
    "Int64",
    "UInt64",
    "Single",
    "Double",
    "String",
    "",
    "TypedReference"
  };

  private final Metadata metadata;
  private int at;
  private final int end;

  Signature(Metadata metadata, int at, int end) {
    this.metadata = metadata;
    this.at = at;
    this.end = end;
  }

  int at() {
    return at;
  }

  /** The next byte. */
  public int next() throws IOException {
    if (at >= end) {
      throw metadata.damaged("a signature that is cut off");
    }
    return metadata.u1(at++);
  }

  /** A compressed unsigned number. */
  public int number() throws IOException {
    int first = next();
    if ((first & 0x80) == 0) {
      return first;
    }
    if ((first & 0x40) == 0) {
      return (first & 0x3f) << 8 | next();
    }
    return (first & 0x1f) << 24 | next() << 16 | next() << 8 | next();
  }

  /** The element type, behind any modifiers. */
  public int element() throws IOException {
    int element = next();
    while (element == MODIFIER || element == MODIFIER_REQUIRED) {
      number();
      element = next();
    }
    return element;
  }

  /** C#'s word for a primitive type; "" for others. */
  public static String keyword(int element) {
    return element >= 0 && element < KEYWORDS.length ? KEYWORDS[element] : "";
  }

  /** The library's name of a type that has a code of its own; "" for others. */
  public static String name(int element) {
    return switch (element) {
      case I -> "System.IntPtr";
      case U -> "System.UIntPtr";
      case OBJECT -> "System.Object";
      default ->
          element > 0 && element < NAMES.length && !NAMES[element].isEmpty()
              ? "System." + NAMES[element]
              : "";
    };
  }

  /** Whether values of it are references to objects. */
  public static boolean isReference(int element) {
    return element == STRING
        || element == CLASS
        || element == OBJECT
        || element == VECTOR
        || element == ARRAY;
  }

  /** Bytes of a value of a primitive type; 0 for others. */
  public static int bytes(int element) {
    return switch (element) {
      case BOOLEAN, I1, U1 -> 1;
      case CHAR, I2, U2 -> 2;
      case I4, U4, R4 -> 4;
      case I8, U8, R8, I, U, POINTER, FUNCTION -> 8;
      default -> 0;
    };
  }
}
