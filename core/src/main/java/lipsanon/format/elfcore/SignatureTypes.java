package lipsanon.format.elfcore;

import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import lipsanon.format.metadata.Metadata;
import lipsanon.format.metadata.Signature;

/**
 * Finds the types that a field's signature names, with the parameters of the class it stands in.
 */
final class SignatureTypes {
  static final Resolved UNKNOWN = new Resolved("?", "?", null, true);
  private static final String SHARED = "System.__Canon";
  private static final int DEEPEST = 16;

  private final RuntimeTypes types;
  private final RuntimeType context;
  private final Metadata metadata;

  SignatureTypes(RuntimeTypes types, RuntimeType context) {
    this.types = types;
    this.context = context;
    this.metadata = context.module.metadata();
  }

  /**
   * A type.
   *
   * @param name as C# writes it
   * @param shared the same, with what stands for all references in place of each of them
   * @param type as it is loaded, or null
   * @param reference whether its values are references
   */
  record Resolved(String name, String shared, RuntimeType type, boolean reference) {}

  Resolved resolve(Signature in) throws IOException {
    return resolve(in, 0);
  }

  private Resolved resolve(Signature in, int depth) throws IOException {
    if (depth > DEEPEST) {
      return UNKNOWN;
    }
    int element = in.element();
    switch (element) {
      case Signature.VALUE_TYPE, Signature.CLASS:
        return named(in.number(), element == Signature.CLASS);
      case Signature.GENERIC:
        return generic(in, depth);
      case Signature.VARIABLE:
        int index = in.number();
        if (index >= context.arguments.length) {
          return UNKNOWN;
        }
        long handle = context.arguments[index];
        RuntimeType argument = types.ofHandle(handle);
        String text = types.handleName(handle, 0);
        boolean reference = argument == null || !argument.value();
        return new Resolved(text, reference ? SHARED : text, argument, reference);
      case Signature.VECTOR:
        String vector = resolve(in, depth + 1).name() + "[]";
        return new Resolved(vector, SHARED, types.named(vector), true);
      case Signature.ARRAY:
        String inner = resolve(in, depth + 1).name();
        String array = inner + "[" + ",".repeat(Math.min(32, Math.max(0, in.number() - 1))) + "]";
        return new Resolved(array, SHARED, types.named(array), true);
      case Signature.POINTER, Signature.BY_REFERENCE, Signature.FUNCTION:
        return new Resolved("pointer", "pointer", null, false);
      default:
        String plain = Signature.name(element);
        if (plain.isEmpty()) {
          return UNKNOWN;
        }
        boolean object = Signature.isReference(element);
        return new Resolved(plain, object ? SHARED : plain, types.named(plain), object);
    }
  }

  private Resolved named(int coded, boolean reference) throws IOException {
    String name = name(coded);
    return new Resolved(name, reference ? SHARED : name, types.named(name), reference);
  }

  private String name(int coded) throws IOException {
    return switch (coded & 3) {
      case 0 -> metadata.typeName(coded >>> 2);
      case 1 -> metadata.refName(coded >>> 2, 0);
      default -> "?";
    };
  }

  private Resolved generic(Signature in, int depth) throws IOException {
    boolean reference = in.element() == Signature.CLASS;
    String plain = name(in.number());
    int count = in.number();
    List<String> exact = new ArrayList<>();
    List<String> shared = new ArrayList<>();
    for (int i = 0; i < count && i < 64; i++) {
      Resolved argument = resolve(in, depth + 1);
      exact.add(argument.name());
      shared.add(argument.reference() ? SHARED : argument.shared());
    }
    String name = plain + "<" + String.join(", ", exact) + ">";
    String common = plain + "<" + String.join(", ", shared) + ">";
    RuntimeType type = types.named(name);
    // an instantiation that was never needed by itself has the layout of the one for references
    return new Resolved(
        name, reference ? SHARED : common, type == null ? types.named(common) : type, reference);
  }
}
