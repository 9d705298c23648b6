package lipsanon.format.light;

import java.io.BufferedReader;
import java.io.IOException;
import java.nio.charset.CharacterCodingException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import lipsanon.io.CorruptInputException;
import lipsanon.io.InputException;
import lipsanon.io.UnsupportedInputException;
import lipsanon.live.HeapSeries;
import lipsanon.live.LightSnapshot;

/** Reads the series of a watched heap. */
public final class SeriesReader {
  private final List<HeapSeries.Heap> heap = new ArrayList<>();
  private final List<HeapSeries.Types> counts = new ArrayList<>();
  private final List<HeapSeries.Mark> marks = new ArrayList<>();

  private SeriesReader() {}

  /**
   * Reads a file; a last line that was cut off is left out.
   *
   * @throws InputException if it is none, or damaged
   */
  public static HeapSeries read(Path file) throws IOException {
    try (BufferedReader in = Files.newBufferedReader(file)) {
      return new SeriesReader().read(file.toString(), new JsonLines(file.toString(), in));
    } catch (CharacterCodingException e) {
      throw new CorruptInputException(file.toString(), 0, "bytes that are no UTF-8", "text");
    }
  }

  private HeapSeries read(String name, JsonLines lines) throws IOException {
    JsonLines.Line head = lines.next();
    if (head == null || !head.has(LightFormat.KEY)) {
      throw new UnsupportedInputException(name, "is no series of a watched heap");
    }
    long version = head.number("version");
    if (version != SeriesFormat.VERSION) {
      throw new UnsupportedInputException(
          name, "is a series of version " + version + "; this program reads version 1");
    }
    while (true) {
      JsonLines.Line line;
      try {
        line = lines.next();
      } catch (CorruptInputException e) {
        if (lines.ended()) {
          break;
        }
        throw e;
      }
      if (line == null) {
        break;
      }
      add(line);
    }
    return new HeapSeries(
        head.text("runtime"),
        head.text("program"),
        head.text("process"),
        head.number("startedAtMillis"),
        List.copyOf(heap),
        List.copyOf(counts),
        List.copyOf(marks));
  }

  private void add(JsonLines.Line line) throws IOException {
    long at = line.number("atMillis");
    if (line.has("mark")) {
      marks.add(new HeapSeries.Mark(at, line.text("mark"), line.text("text")));
    } else if (line.has("types")) {
      List<LightSnapshot.Type> types = new ArrayList<>();
      for (JsonLines.Line row : line.list("types")) {
        types.add(
            new LightSnapshot.Type(row.text("type"), row.size("count"), row.size("shallowBytes")));
      }
      counts.add(
          new HeapSeries.Types(
              at,
              line.size("costMillis"),
              line.truth("live"),
              line.size("count"),
              line.size("shallowBytes"),
              List.copyOf(types)));
    } else {
      heap.add(
          new HeapSeries.Heap(
              at,
              line.number("usedBytes"),
              line.number("committedBytes"),
              line.number("maxBytes"),
              line.number("collections"),
              line.number("pauseMicros"),
              line.number("survivedBytes")));
    }
  }
}
