package lipsanon.select;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import lipsanon.index.Snapshot;

/**
 * Selections that were given a name, kept beside the index: a file of lines {@code name TAB text},
 * the last line of a name counts.
 */
public final class NamedSelections {
  private static final String FILE = "selections";
  private static final int MOST_LINES = 10_000;

  private NamedSelections() {}

  /** Whether a text can be a name. */
  public static boolean isName(String text) {
    return text.matches("[A-Za-z_][A-Za-z0-9_-]{0,63}");
  }

  /** All by name; none if there is no such file. */
  public static Map<String, String> of(Snapshot snapshot) throws IOException {
    Map<String, String> named = new LinkedHashMap<>();
    Path file = snapshot.folder().resolve(FILE);
    if (Files.isRegularFile(file)) {
      for (String line : Files.readAllLines(file, StandardCharsets.UTF_8)) {
        int tab = line.indexOf('\t');
        if (tab > 0 && named.size() < MOST_LINES) {
          named.put(line.substring(0, tab), line.substring(tab + 1));
        }
      }
    }
    return named;
  }

  /** Gives a selection a name; written whole or not at all. */
  public static void put(Snapshot snapshot, String name, String text) throws IOException {
    if (!isName(name) || text.indexOf('\n') >= 0) {
      throw new IllegalArgumentException(name);
    }
    Map<String, String> named = of(snapshot);
    named.put(name, text);
    List<String> lines = new ArrayList<>();
    named.forEach((key, value) -> lines.add(key + "\t" + value));
    Path temporary = Files.createTempFile(snapshot.folder(), FILE, ".tmp");
    Files.write(temporary, lines, StandardCharsets.UTF_8);
    Files.move(
        temporary,
        snapshot.folder().resolve(FILE),
        StandardCopyOption.ATOMIC_MOVE,
        StandardCopyOption.REPLACE_EXISTING);
  }
}
