package lipsanon.cli.command.live;

import java.util.regex.Matcher;
import java.util.regex.Pattern;
import lipsanon.capture.HeapReading;
import lipsanon.change.SurvivalTrend;
import lipsanon.cli.UsageException;
import lipsanon.cli.watch.Watched;

/**
 * When a snapshot is to be taken.
 *
 * <pre>
 * Condition --> ("heap" | "survivors") ">" (Number "%" | Size)
 *             | "survivors" "rise" ">" Size "/" ("s" | "min" | "h") "for" Time
 * </pre>
 *
 * A percentage is one of the most that the heap may grow to.
 *
 * @param text as the user wrote it
 * @param survivors whether it is about what survives collections; else about what is used
 * @param bytes the limit, or the bytes a second of a rise
 * @param share the limit as a share of the most, or -1
 * @param forMillis how long a rise must last; 0: it is about a level
 */
record Condition(String text, boolean survivors, double bytes, double share, long forMillis) {
  private static final Pattern LEVEL =
      Pattern.compile("(heap|survivors)\\s*>\\s*(?:([0-9.]+)\\s*%|([0-9.]+\\s*[A-Za-z]*))");
  private static final Pattern RISE =
      Pattern.compile(
          "survivors\\s+rise\\s*>\\s*([0-9.]+\\s*[A-Za-z]*)\\s*/\\s*(s|min|h)\\s+for\\s+(\\S+)");

  /** Reads one. */
  static Condition parse(String text) {
    String line = text.strip();
    Matcher level = LEVEL.matcher(line);
    if (level.matches()) {
      boolean survivors = level.group(1).equals("survivors");
      if (level.group(2) != null && level.group(2).matches("[0-9]{1,3}(\\.[0-9]+)?")) {
        double share = Double.parseDouble(level.group(2)) / 100;
        if (share > 0 && share < 1) {
          return new Condition(line, survivors, 0, share, 0);
        }
      } else if (level.group(3) != null && Spans.bytes(level.group(3)) > 0) {
        return new Condition(line, survivors, Spans.bytes(level.group(3)), -1, 0);
      }
    }
    Matcher rise = RISE.matcher(line);
    if (rise.matches() && Spans.bytes(rise.group(1)) > 0) {
      double seconds = rise.group(2).equals("s") ? 1 : rise.group(2).equals("min") ? 60 : 3600;
      long span = Spans.millis(rise.group(3), "--when");
      return new Condition(line, true, Spans.bytes(rise.group(1)) / seconds, -1, span);
    }
    throw new UsageException(
        "--when: \""
            + line
            + "\" is no condition; write 'heap > 80%', 'heap > 500MB', 'survivors > 200MB' or"
            + " 'survivors rise > 1MB/min for 10m'");
  }

  /** Whether types have to be counted for it. */
  boolean needsSurvivors() {
    return survivors;
  }

  /** Whether it holds; says why, or "". */
  String holds(Watched watched, lipsanon.cli.term.Format format) {
    HeapReading now = watched.now();
    if (forMillis > 0) {
      SurvivalTrend trend = watched.trend();
      boolean rises =
          trend.verdict() == SurvivalTrend.Verdict.RISING
              && trend.bytesPerSecond() > bytes
              && trend.spanMillis() >= forMillis;
      return rises
          ? "what survives has risen by "
              + format.size(Math.round(trend.bytesPerSecond() * 60))
              + " a minute for "
              + lipsanon.cli.term.Format.duration(trend.spanMillis())
          : "";
    }
    long value = survivors ? watched.survivesBytes() : now.usedBytes();
    double limit = share > 0 ? share * now.maxBytes() : bytes;
    if (share > 0 && now.maxBytes() <= 0) {
      throw new UsageException("--when: this runtime does not say how large its heap may grow");
    }
    return value > limit
        ? (survivors ? "what survives is " : "the heap is ") + format.size(value)
        : "";
  }
}
