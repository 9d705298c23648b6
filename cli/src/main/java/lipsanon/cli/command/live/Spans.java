package lipsanon.cli.command.live;

import java.util.regex.Matcher;
import java.util.regex.Pattern;
import lipsanon.cli.UsageException;

/** Reads spans of time and sizes as users write them. */
final class Spans {
  private static final Pattern SPAN = Pattern.compile("([0-9]+(?:\\.[0-9]+)?)(ms|s|min|m|h|d)?");
  private static final Pattern SIZE =
      Pattern.compile("([0-9]+(?:\\.[0-9]+)?) ?(B|kB|KB|k|MB|M|GB|G)?");

  private Spans() {}

  /** Milliseconds of {@code 500ms}, {@code 30s} (or {@code 30}), {@code 10m}, {@code 2h}. */
  static long millis(String text, String option) {
    Matcher matcher = SPAN.matcher(text.strip());
    if (!matcher.matches()) {
      throw new UsageException(
          option + ": \"" + text + "\" is no span of time such as 500ms, 30s, 10m or 2h");
    }
    double unit =
        switch (matcher.group(2) == null ? "s" : matcher.group(2)) {
          case "ms" -> 1;
          case "m", "min" -> 60_000;
          case "h" -> 3_600_000;
          case "d" -> 86_400_000;
          default -> 1000;
        };
    double millis = Double.parseDouble(matcher.group(1)) * unit;
    if (millis < 1 || millis > 3.2e12) {
      throw new UsageException(option + ": " + text + " is too short or too long");
    }
    return Math.round(millis);
  }

  /** Bytes of {@code 500MB}; 1 kB is 1,000 bytes. -1 if it is no size. */
  static long bytes(String text) {
    Matcher matcher = SIZE.matcher(text.strip());
    if (!matcher.matches()) {
      return -1;
    }
    double unit =
        switch (matcher.group(2) == null ? "B" : matcher.group(2)) {
          case "kB", "KB", "k" -> 1e3;
          case "MB", "M" -> 1e6;
          case "GB", "G" -> 1e9;
          default -> 1;
        };
    return Math.round(Double.parseDouble(matcher.group(1)) * unit);
  }
}
