package leakyard;

/** A program with one action. */
public interface Program {
  /**
   * Does the action.
   *
   * @param number how often it was done before
   */
  void act(int number) throws Exception;

  /** Empties the holder that is at fault, so that what piled up goes. */
  default void release() throws Exception {}

  /** Work that leaves nothing behind. */
  static int churn(int number) {
    StringBuilder text = new StringBuilder();
    for (int i = 0; i < 500; i++) {
      text.append("gust ").append(i * number).append(' ');
    }
    return text.length();
  }
}
