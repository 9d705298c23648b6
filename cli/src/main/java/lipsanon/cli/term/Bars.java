package lipsanon.cli.term;

/** Bars of block characters, to an eighth of a character. */
public final class Bars {
  private static final String EIGHTHS = " ▏▎▍▌▋▊▉";
  private static final int STEPS = 8;

  private Bars() {}

  /** A bar of so much of a full length. */
  public static String of(double part, int length) {
    int eighths = (int) Math.round(Math.max(0, Math.min(1, part)) * length * STEPS);
    String rest =
        eighths % STEPS == 0 ? "" : EIGHTHS.substring(eighths % STEPS, eighths % STEPS + 1);
    return "█".repeat(eighths / STEPS) + rest;
  }
}
