package lipsanon.fleet;

import java.nio.file.Path;
import java.time.DateTimeException;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.regex.PatternSyntaxException;

/**
 * Takes labels from the end of a path: {@code {service}/{build}/{host}/{time}.hprof}. The names are
 * {@code service}, {@code build}, {@code host}, {@code time} and {@code any}; a name stands for
 * text without a slash; {@code *} outside names for any such text.
 */
public final class LabelPattern {
  private static final Pattern NAME = Pattern.compile("\\{([a-z]*)}|(\\*)");
  private static final List<String> NAMES = List.of("service", "build", "host", "time", "any");
  private static final DateTimeFormatter COMPACT =
      DateTimeFormatter.ofPattern("yyyyMMdd['T'][-][_]HHmmss");

  private final Pattern pattern;
  private final List<String> names = new ArrayList<>();

  /**
   * Reads a pattern.
   *
   * @throws IllegalArgumentException in a sentence, if it has a name that there is not
   */
  public LabelPattern(String text) {
    StringBuilder regex = new StringBuilder("(?:^|.*/)");
    Matcher matcher = NAME.matcher(text);
    int at = 0;
    while (matcher.find()) {
      regex.append(Pattern.quote(text.substring(at, matcher.start())));
      String name = matcher.group(1);
      if (name == null || name.equals("any")) {
        regex.append("[^/]*");
      } else if (NAMES.contains(name) && !names.contains(name)) {
        names.add(name);
        regex.append("(?<").append(name).append(">[^/]+)");
      } else {
        throw new IllegalArgumentException(
            "the pattern of labels has {"
                + name
                + "}"
                + (names.contains(name)
                    ? " twice"
                    : "; there are {service}, {build}, {host}, {time}")
                + ": "
                + text);
      }
      at = matcher.end();
    }
    regex.append(Pattern.quote(text.substring(at)));
    try {
      this.pattern = Pattern.compile(regex.toString());
    } catch (PatternSyntaxException e) {
      throw new IllegalArgumentException("not a pattern of labels: " + text, e);
    }
  }

  /**
   * The labels of an address; null if it does not fit.
   *
   * @param otherwise for what the pattern does not name
   */
  Labels of(String address, Labels otherwise) {
    Matcher matcher = pattern.matcher(address.replace('\\', '/'));
    if (!matcher.matches()) {
      return null;
    }
    return new Labels(
        group(matcher, "service", otherwise.service()),
        group(matcher, "build", otherwise.build()),
        group(matcher, "host", otherwise.host()),
        names.contains("time")
            ? time(matcher.group("time"), otherwise.taken())
            : otherwise.taken());
  }

  private String group(Matcher matcher, String name, String otherwise) {
    return names.contains(name) ? matcher.group(name) : otherwise;
  }

  /** A point in time as people write them; what is none gives the other. */
  static Instant time(String text, Instant otherwise) {
    Instant time = parse(text);
    return time == null ? otherwise : time;
  }

  /** A point in time, or null. Without a zone it is in UTC. */
  static Instant parse(String text) {
    List<java.util.function.Function<String, Instant>> ways =
        List.of(
            Instant::parse,
            t -> LocalDateTime.parse(t.replace(' ', 'T')).toInstant(ZoneOffset.UTC),
            t -> LocalDateTime.parse(t, COMPACT).toInstant(ZoneOffset.UTC),
            t -> LocalDate.parse(t).atStartOfDay(ZoneOffset.UTC).toInstant(),
            t -> seconds(Long.parseLong(t)));
    for (java.util.function.Function<String, Instant> way : ways) {
      try {
        return way.apply(text);
      } catch (DateTimeException | NumberFormatException e) {
        // the next way
      }
    }
    return null;
  }

  /** Seconds or milliseconds since 1970. */
  private static Instant seconds(long number) {
    return number > 100_000_000_000L ? Instant.ofEpochMilli(number) : Instant.ofEpochSecond(number);
  }

  /** The labels of a file that nobody says anything of: it is of the folder that it lies in. */
  static Labels plain(Path file, Instant taken) {
    Path folder = file.toAbsolutePath().normalize().getParent();
    Path name = folder == null ? null : folder.getFileName();
    return new Labels(Labels.UNNAMED, "", name == null ? "" : name.toString(), taken);
  }
}
