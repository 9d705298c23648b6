package lipsanon.format.v8;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;

/** Writes source maps: the other direction of what is tested. */
final class MapBuilder {
  private static final String DIGITS =
      "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/";

  /** A segment; a source or name of null is none. */
  record Segment(int line, int column, String source, int from, int fromColumn, String name) {}

  final List<Segment> segments = new ArrayList<>();

  MapBuilder add(int line, int column, String source, int from, int fromColumn, String name) {
    segments.add(new Segment(line, column, source, from, fromColumn, name));
    return this;
  }

  private List<String> texts(java.util.function.Function<Segment, String> of) {
    Set<String> texts = new LinkedHashSet<>();
    segments.stream().map(of).filter(text -> text != null).forEach(texts::add);
    return List.copyOf(texts);
  }

  private static String list(List<String> texts) {
    return "[" + String.join(",", texts.stream().map(text -> '"' + text + '"').toList()) + "]";
  }

  static String number(int value) {
    StringBuilder text = new StringBuilder();
    long left = value < 0 ? (-(long) value) << 1 | 1 : (long) value << 1;
    do {
      long digit = left & 31;
      left >>>= 5;
      text.append(DIGITS.charAt((int) (left > 0 ? digit | 32 : digit)));
    } while (left > 0);
    return text.toString();
  }

  String mappings() {
    segments.sort(Comparator.comparingInt(Segment::line).thenComparingInt(Segment::column));
    List<String> sources = texts(Segment::source);
    List<String> names = texts(Segment::name);
    StringBuilder text = new StringBuilder();
    int line = 0;
    int[] last = new int[5];
    boolean first = true;
    for (Segment segment : segments) {
      while (line < segment.line()) {
        text.append(';');
        line++;
        last[0] = 0;
        first = true;
      }
      text.append(first ? "" : ",").append(number(segment.column() - last[0]));
      first = false;
      last[0] = segment.column();
      if (segment.source() != null) {
        int[] now = {0, sources.indexOf(segment.source()), segment.from(), segment.fromColumn(), 0};
        for (int i = 1; i <= 3; i++) {
          text.append(number(now[i] - last[i]));
          last[i] = now[i];
        }
        if (segment.name() != null) {
          int name = names.indexOf(segment.name());
          text.append(number(name - last[4]));
          last[4] = name;
        }
      }
    }
    return text.toString();
  }

  String json() {
    String written = mappings();
    return "{\"version\":3,\"sources\":"
        + list(texts(Segment::source))
        + ",\"names\":"
        + list(texts(Segment::name))
        + ",\"mappings\":\""
        + written
        + "\"}";
  }
}
