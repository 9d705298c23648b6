package lipsanon.format.metadata;

import java.util.List;
import java.util.function.IntFunction;

/**
 * What a field is declared as.
 *
 * @param name without arguments: {@code Space.Crate[]}; {@link #ANY} where a parameter stands for
 *     it
 * @param element its code in signatures; of a type with arguments whether it is a class
 * @param row of the type where the same assembly defines it, else 0
 * @param parameter which parameter of its class it is, or -1
 * @param arguments none where they are not told
 * @param generic whether it takes arguments
 * @param part of an array what its elements are, else null
 */
public record DeclaredType(
    String name,
    int element,
    int row,
    int parameter,
    List<DeclaredType> arguments,
    boolean generic,
    DeclaredType part) {
  /** What may be of any type: one that a parameter stands for. */
  public static final String ANY = "";

  private static final int LONGEST = 2000;

  static DeclaredType plain(String name, int element, int row) {
    return new DeclaredType(name, element, row, -1, List.of(), false, null);
  }

  static DeclaredType generic(String name, int kind, int row, List<DeclaredType> arguments) {
    return new DeclaredType(name, kind, row, -1, arguments, true, null);
  }

  static DeclaredType parameter(int number) {
    return new DeclaredType(ANY, Signature.VARIABLE, 0, number, List.of(), false, null);
  }

  static DeclaredType array(DeclaredType part) {
    return new DeclaredType(part.name() + "[]", Signature.VECTOR, 0, -1, List.of(), false, part);
  }

  /** Whether its values are references; else they are structures, or numbers. */
  public boolean reference() {
    return element == Signature.VARIABLE || Signature.isReference(element);
  }

  /** Whether its values lead to no object: numbers and the like. */
  boolean bare() {
    return !reference() && element != Signature.VALUE_TYPE;
  }

  /**
   * Its name with its arguments: {@code Space.Shelf<Space.Crate>}; null where these are not known,
   * or very long.
   *
   * @param parameters what stands for the parameters of the class, by their numbers; null: not
   *     known
   */
  public String full(IntFunction<String> parameters) {
    if (part != null) {
      String inner = part.full(parameters);
      return inner == null ? null : inner + "[]";
    }
    if (element == Signature.VARIABLE) {
      return parameter < 0 ? null : parameters.apply(parameter);
    }
    if (!generic) {
      return name;
    }
    if (arguments.isEmpty()) {
      return null;
    }
    StringBuilder text = new StringBuilder(name).append('<');
    for (int i = 0; i < arguments.size(); i++) {
      String argument = arguments.get(i).full(parameters);
      if (argument == null || text.length() > LONGEST) {
        return null;
      }
      text.append(i == 0 ? "" : ", ").append(argument);
    }
    return text.append('>').toString();
  }
}
