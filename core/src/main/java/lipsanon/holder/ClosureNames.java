package lipsanon.holder;

/** The names of types that are made for functions, by compilers or, on the JVM, while it runs. */
final class ClosureNames {
  private static final String LAMBDA = "$$Lambda";

  private ClosureNames() {}

  /**
   * Whether a type, or a reference in words, is of a lambda of the JVM: its fields are numbered.
   */
  static boolean isOfLambda(String text) {
    return text.contains(LAMBDA);
  }

  /**
   * Whether something is of the class that a lambda stands in, or of one inside of the same.
   *
   * @param captured what the lambda captured, in words
   * @param text the other, in words
   */
  static boolean isInClassOf(String captured, String text) {
    int lambda = captured.indexOf(LAMBDA);
    if (lambda < 0 || text.contains(LAMBDA)) {
      return false;
    }
    int nested = captured.indexOf('$');
    String outer = captured.substring(0, nested);
    return text.contains(outer + ".") || text.contains(outer + "$");
  }

  /**
   * Whether C# made a type for functions: with what they share, or for those that share nothing.
   */
  static boolean isClosure(String type) {
    return type.contains("<>c");
  }

  /** Whether it was made for the variables that functions share. */
  static boolean isCaptured(String type) {
    return type.contains("<>c__DisplayClass") || type.contains(">c__AnonStorey");
  }
}
