package lipsanon.format.metadata;

import java.io.IOException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;

/** The types that an assembly defines, by their rows: what they descend from, and their fields. */
public final class AssemblyTypes {
  /** What may be of any type: one that a parameter stands for. */
  public static final String ANY = "";

  private static final int STATIC = 0x10;
  private static final int LITERAL = 0x40;
  private static final int SIGNED = 1;
  private static final int ASSEMBLY = 0x20;
  private static final int DEEPEST = 16;
  private static final int MOST_PARAMETERS = 64;

  private final Metadata metadata;

  public AssemblyTypes(Metadata metadata) {
    this.metadata = metadata;
  }

  /**
   * A field.
   *
   * @param name as the compiler has it
   * @param isStatic whether the class has it
   * @param type what it is declared as, without arguments: {@code Space.Crate[]}, or {@link #ANY}
   * @param reference whether its values are references; else they are structures
   * @param row of the type where it is defined by the same assembly, else 0
   * @param parameter which parameter of its class the type is, or -1
   */
  public record Field(
      String name, boolean isStatic, String type, boolean reference, int row, int parameter) {}

  /** A type that is named: {@code row} is not 0 where the same assembly defines it. */
  public record Named(String name, int row) {}

  /** How many types there are: their rows count from 1. */
  public int count() {
    return metadata.rows(Metadata.TYPE_DEF);
  }

  /** A name as C# writes it, without arguments. */
  public String name(int row) throws IOException {
    return metadata.typeName(row);
  }

  public boolean nested(int row) throws IOException {
    return metadata.nested(row);
  }

  /** The name that the runtime's events say: with what counts parameters, without outer types. */
  public String plainName(int row) throws IOException {
    String name = metadata.text(metadata.value(Metadata.TYPE_DEF, row, 1));
    String space = metadata.text(metadata.value(Metadata.TYPE_DEF, row, 2));
    return metadata.nested(row) || space.isEmpty() ? name : space + "." + name;
  }

  /** Whether whoever made the assembly signed it, as publishers of libraries do. */
  public boolean signed() throws IOException {
    return metadata.rows(ASSEMBLY) > 0 && (metadata.value(ASSEMBLY, 1, 5) & SIGNED) != 0;
  }

  /** What a type extends; null: nothing. */
  public Named base(int row) throws IOException {
    return named(metadata.value(Metadata.TYPE_DEF, row, 3));
  }

  /**
   * What the parameters of the class that a type extends are: by each, which of the type's own
   * parameters it is, or -1 for anything else.
   */
  public int[] baseArguments(int row) throws IOException {
    int coded = metadata.value(Metadata.TYPE_DEF, row, 3);
    if ((coded & 3) != 2 || coded >>> 2 == 0) {
      return new int[0];
    }
    Signature in = metadata.signature(metadata.value(Metadata.TYPE_SPEC, coded >>> 2, 0));
    if (in.element() != Signature.GENERIC) {
      return new int[0];
    }
    in.element();
    in.number();
    int[] found = new int[Math.min(in.number(), MOST_PARAMETERS)];
    for (int i = 0; i < found.length; i++) {
      int element = in.element();
      Named argument = type(element, in, 0);
      boolean own = element == Signature.VARIABLE && argument != null;
      found[i] = own ? parameterNumber : -1;
      if (element == Signature.GENERIC) {
        // what follows is not told apart: arguments of arguments
        Arrays.fill(found, i, found.length, -1);
        break;
      }
    }
    return found;
  }

  /** The interfaces that it names. */
  public List<String> interfaces(int row) throws IOException {
    List<String> found = new ArrayList<>();
    int rows = metadata.rows(Metadata.INTERFACES);
    // sorted by class
    int low = 1;
    for (int high = rows + 1; low < high; ) {
      int middle = low + high >>> 1;
      if (metadata.value(Metadata.INTERFACES, middle, 0) < row) {
        low = middle + 1;
      } else {
        high = middle;
      }
    }
    for (; low <= rows && metadata.value(Metadata.INTERFACES, low, 0) == row; low++) {
      Named one = named(metadata.value(Metadata.INTERFACES, low, 1));
      if (one != null) {
        found.add(one.name());
      }
    }
    return found;
  }

  /** The fields of a type that may lead to objects, in their order. */
  public List<Field> fields(int row) throws IOException {
    List<Field> found = new ArrayList<>();
    int from = metadata.value(Metadata.TYPE_DEF, row, 4);
    int to =
        row < count()
            ? metadata.value(Metadata.TYPE_DEF, row + 1, 4)
            : metadata.rows(Metadata.FIELD) + 1;
    for (int f = from; f < to; f++) {
      int flags = metadata.value(Metadata.FIELD, f, 0);
      if ((flags & LITERAL) != 0) {
        continue;
      }
      Signature in = metadata.signature(metadata.value(Metadata.FIELD, f, 2));
      if (in.next() == Signature.FIELD_HEAD) {
        int element = in.element();
        Named type = type(element, in, 0);
        if (type != null) {
          boolean parameter = element == Signature.VARIABLE || element == Signature.METHOD_VARIABLE;
          boolean reference = parameter || Signature.isReference(classOf(element, in));
          String name = metadata.text(metadata.value(Metadata.FIELD, f, 1));
          found.add(
              new Field(
                  name,
                  (flags & STATIC) != 0,
                  type.name(),
                  reference,
                  type.row(),
                  element == Signature.VARIABLE ? parameterNumber : -1));
        }
      }
    }
    return found;
  }

  private int generic;
  private int parameterNumber;

  /** Of a type with arguments, whether it is a class. */
  private int classOf(int element, Signature in) {
    return element == Signature.GENERIC ? generic : element;
  }

  /** What a signature names; null: something that leads to no object. */
  private Named type(int element, Signature in, int depth) throws IOException {
    if (depth > DEEPEST) {
      return null;
    }
    return switch (element) {
      case Signature.STRING, Signature.OBJECT -> new Named(Signature.name(element), 0);
      case Signature.CLASS, Signature.VALUE_TYPE -> named(in.number());
      case Signature.GENERIC -> {
        generic = in.element();
        yield named(in.number());
      }
      case Signature.VARIABLE, Signature.METHOD_VARIABLE -> {
        parameterNumber = in.number();
        yield new Named(ANY, 0);
      }
      case Signature.VECTOR, Signature.ARRAY -> {
        int inner = in.element();
        int of = generic;
        Named part = type(inner, in, depth + 1);
        generic = of;
        String name = part == null ? Signature.name(inner) : part.name();
        yield new Named(name + "[]", 0);
      }
      default -> null;
    };
  }

  /** By a coded index into types that are defined, referred to or composed. */
  private Named named(int coded) throws IOException {
    int row = coded >>> 2;
    if (row == 0) {
      return null;
    }
    switch (coded & 3) {
      case 0:
        return new Named(metadata.typeName(row), row);
      case 1:
        return new Named(metadata.refName(row, 0), 0);
      default:
        Signature in = metadata.signature(metadata.value(Metadata.TYPE_SPEC, row, 0));
        return in.element() == Signature.GENERIC && in.element() > 0 ? named(in.number()) : null;
    }
  }
}
