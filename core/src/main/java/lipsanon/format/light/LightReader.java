package lipsanon.format.light;

import java.io.BufferedReader;
import java.io.IOException;
import java.nio.charset.CharacterCodingException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import lipsanon.io.CorruptInputException;
import lipsanon.io.InputException;
import lipsanon.io.TruncatedInputException;
import lipsanon.io.UnsupportedInputException;
import lipsanon.live.LightSnapshot;

/** Reads light snapshots; what a file says is checked against its last line. */
public final class LightReader {
  /** More than any program has, and few enough to hold. */
  private static final int MOST_TYPES = 5_000_000;

  private final String name;
  private final JsonLines lines;

  private LightReader(String name, JsonLines lines) {
    this.name = name;
    this.lines = lines;
  }

  /**
   * Reads a file.
   *
   * @throws InputException if it is none, or damaged; positions are numbers of lines
   */
  public static LightSnapshot read(Path file) throws IOException {
    try (BufferedReader in = Files.newBufferedReader(file)) {
      return new LightReader(file.toString(), new JsonLines(file.toString(), in)).read();
    } catch (CharacterCodingException e) {
      throw new CorruptInputException(file.toString(), 0, "bytes that are no UTF-8", "text");
    }
  }

  private LightSnapshot read() throws IOException {
    JsonLines.Line head = lines.next();
    if (head == null || !head.has(LightFormat.KEY)) {
      throw new UnsupportedInputException(name, "is no light snapshot");
    }
    long version = head.number("version");
    if (version != LightFormat.VERSION) {
      throw new UnsupportedInputException(
          name,
          "is a light snapshot of version "
              + version
              + "; this program reads "
              + LightFormat.VERSION);
    }
    List<LightSnapshot.Type> types = new ArrayList<>();
    Set<String> names = new HashSet<>();
    while (true) {
      JsonLines.Line row = lines.next();
      if (row == null) {
        throw new TruncatedInputException(name, lines.line(), "the last line, with the sums");
      }
      if (row.has("types")) {
        return whole(head, types, row);
      }
      String type = row.text("type");
      if (!names.add(type) || types.size() > MOST_TYPES) {
        throw new CorruptInputException(
            name, lines.line(), "type \"" + type + "\" again", "another type");
      }
      types.add(new LightSnapshot.Type(type, row.size("count"), row.size("shallowBytes")));
    }
  }

  private LightSnapshot whole(
      JsonLines.Line head, List<LightSnapshot.Type> types, JsonLines.Line end) throws IOException {
    LightSnapshot snapshot =
        new LightSnapshot(
            head.text("runtime"),
            head.text("program"),
            head.text("process"),
            head.number("takenAtMillis"),
            head.truth("live"),
            List.copyOf(types));
    if (end.number("types") != types.size()
        || end.number("count") != snapshot.count()
        || end.number("shallowBytes") != snapshot.shallowBytes()) {
      throw new CorruptInputException(
          name, lines.line(), "sums that are not those of the lines before", "the same sums");
    }
    return snapshot;
  }
}
