package lipsanon.cli.term;

import java.util.Locale;

/** Figures as texts. */
public final class Format {
  private static final String[] UNITS = {"B", "kB", "MB", "GB", "TB", "PB"};

  private final boolean exact;

  /** With {@code exact}, sizes are in bytes. */
  public Format(boolean exact) {
    this.exact = exact;
  }

  /** A count with separators. */
  public static String count(long value) {
    return String.format(Locale.ROOT, "%,d", value);
  }

  /** So many objects, in words. */
  public static String objects(long count) {
    return count(count) + (count == 1 ? " object" : " objects");
  }

  /** A size for people: 1 kB is 1,000 bytes. */
  public String size(long bytes) {
    if (exact) {
      return count(bytes);
    }
    if (bytes == Long.MIN_VALUE) {
      return count(bytes) + " B";
    }
    if (bytes < 0) {
      return "-" + size(-bytes);
    }
    double value = bytes;
    int unit = 0;
    while (value >= 999.95 && unit < UNITS.length - 1) {
      value /= 1000;
      unit++;
    }
    return unit == 0
        ? bytes + " B"
        : String.format(Locale.ROOT, value < 9.995 ? "%.2f %s" : "%.1f %s", value, UNITS[unit]);
  }

  /** A difference of sizes with its sign. */
  public String difference(long bytes) {
    return bytes > 0 ? "+" + size(bytes) : size(bytes);
  }

  /** A difference of counts with its sign. */
  public static String countDifference(long value) {
    return value > 0 ? "+" + count(value) : count(value);
  }

  /** A size as a cell. */
  public Table.Cell cell(long bytes) {
    return new Table.Cell(size(bytes), Long.toString(bytes));
  }

  /** A share as a cell. */
  public static Table.Cell share(double share) {
    return new Table.Cell(percent(share), String.format(Locale.ROOT, "%.6f", share));
  }

  /** A share as a percentage. */
  public static String percent(double share) {
    return String.format(Locale.ROOT, "%.1f %%", share * 100);
  }

  /** A time span in words. */
  public static String duration(long millis) {
    if (millis < 0) {
      return "?";
    }
    long seconds = millis / 1000;
    if (seconds < 100) {
      return seconds < 10 ? String.format(Locale.ROOT, "%.1f s", millis / 1000.0) : seconds + " s";
    }
    long minutes = seconds / 60;
    if (minutes < 100) {
      return minutes + " min";
    }
    return minutes < 60 * 48
        ? minutes / 60 + " h " + minutes % 60 + " min"
        : minutes / 1440 + " days";
  }
}
