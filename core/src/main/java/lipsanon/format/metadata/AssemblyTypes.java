package lipsanon.format.metadata;

import java.io.IOException;
import java.util.ArrayList;
import java.util.List;

/** The types that an assembly defines, by their rows: what they descend from, and their fields. */
public final class AssemblyTypes {
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
   * @param type what it is declared as
   */
  public record Field(String name, boolean isStatic, DeclaredType type) {}

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
      DeclaredType argument = type(in, 0);
      found[i] = argument == null ? -1 : argument.parameter();
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
        DeclaredType type = type(in, 0);
        if (type != null && !type.bare()) {
          String name = metadata.text(metadata.value(Metadata.FIELD, f, 1));
          found.add(new Field(name, (flags & STATIC) != 0, type));
        }
      }
    }
    return found;
  }

  /** What a signature goes on with; null: what is not told, as a pointer, or one too deep. */
  private DeclaredType type(Signature in, int depth) throws IOException {
    if (depth > DEEPEST) {
      return null;
    }
    int element = in.element();
    switch (element) {
      case Signature.CLASS, Signature.VALUE_TYPE:
        return plain(named(in.number()), element);
      case Signature.GENERIC:
        int kind = in.element();
        Named outer = named(in.number());
        int count = in.number();
        List<DeclaredType> arguments = new ArrayList<>();
        boolean told = true;
        for (int i = 0; i < count && told; i++) {
          DeclaredType argument = i < MOST_PARAMETERS ? type(in, depth + 1) : null;
          told = argument != null;
          arguments.add(argument);
        }
        return outer == null
            ? null
            : DeclaredType.generic(outer.name(), kind, outer.row(), told ? arguments : List.of());
      case Signature.VARIABLE:
        return DeclaredType.parameter(in.number());
      case Signature.METHOD_VARIABLE:
        in.number();
        return DeclaredType.parameter(-1);
      case Signature.VECTOR:
        return array(type(in, depth + 1));
      case Signature.ARRAY:
        DeclaredType part = type(in, depth + 1);
        in.number();
        for (int list = 0; list < 2; list++) {
          for (int left = Math.min(in.number(), MOST_PARAMETERS); left > 0; left--) {
            in.number();
          }
        }
        return array(part);
      default:
        String name = Signature.name(element);
        return name.isEmpty() ? null : DeclaredType.plain(name, element, 0);
    }
  }

  /** A reference in any case: the fields behind it count from it. */
  private static DeclaredType array(DeclaredType part) {
    return DeclaredType.array(part == null ? DeclaredType.parameter(-1) : part);
  }

  private static DeclaredType plain(Named named, int element) {
    return named == null ? null : DeclaredType.plain(named.name(), element, named.row());
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
