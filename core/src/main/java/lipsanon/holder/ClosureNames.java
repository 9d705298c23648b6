package lipsanon.holder;

/** The names that compilers of C# give to the types that they make for functions. */
final class ClosureNames {
  private ClosureNames() {}

  /**
   * Whether a type was made for functions: with what they share, or for those that share nothing.
   */
  static boolean isClosure(String type) {
    return type.contains("<>c");
  }

  /** Whether it was made for the variables that functions share. */
  static boolean isCaptured(String type) {
    return type.contains("<>c__DisplayClass") || type.contains(">c__AnonStorey");
  }
}
