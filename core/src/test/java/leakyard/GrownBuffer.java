package leakyard;

/** One text that only grows. */
public final class GrownBuffer implements Program {
  /** Ready to act. */
  public GrownBuffer() {}

  private static final class Log {
    private final StringBuilder text = new StringBuilder();
  }

  private final Log log = new Log();

  @Override
  public void act(int number) {
    log.text.append("the tide stood at ").append(number).append(" when the pilot came aboard\n");
  }
}
