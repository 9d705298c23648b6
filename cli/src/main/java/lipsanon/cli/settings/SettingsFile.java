package lipsanon.cli.settings;

import java.io.IOException;
import java.io.Reader;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import lipsanon.cli.UsageException;
import org.snakeyaml.engine.v2.api.Load;
import org.snakeyaml.engine.v2.api.LoadSettings;
import org.snakeyaml.engine.v2.exceptions.MarkedYamlEngineException;
import org.snakeyaml.engine.v2.exceptions.YamlEngineException;

/** Reads YAML files of the user's. */
public final class SettingsFile {
  private static final long LARGEST = 1 << 20;

  private SettingsFile() {}

  /** A file of names and values; lists become texts with commas. */
  static Map<String, String> read(Path file) {
    Map<String, String> values = new LinkedHashMap<>();
    Object content = parse(file);
    if (content == null) {
      return values;
    }
    if (!(content instanceof Map<?, ?> map)) {
      throw new UsageException(file + ": lines of `name: value` are expected");
    }
    map.forEach(
        (name, value) -> {
          if (value instanceof List<?> list) {
            values.put(
                String.valueOf(name),
                list.stream().map(String::valueOf).collect(Collectors.joining(",")));
          } else if (value instanceof Map<?, ?>) {
            throw new UsageException(file + ": " + name + " takes a value, not lines of its own");
          } else {
            values.put(String.valueOf(name), value == null ? "" : String.valueOf(value));
          }
        });
    return values;
  }

  /**
   * The content of a YAML file: maps, lists, texts, numbers.
   *
   * @throws UsageException if it is none, with the line
   */
  public static Object parse(Path file) {
    try {
      if (Files.size(file) > LARGEST) {
        throw new UsageException(file + ": is larger than any such file");
      }
      try (Reader in = Files.newBufferedReader(file)) {
        LoadSettings settings =
            LoadSettings.builder().setLabel(file.toString()).setMaxAliasesForCollections(0).build();
        return new Load(settings).loadFromReader(in);
      }
    } catch (MarkedYamlEngineException e) {
      String where = e.getProblemMark().map(mark -> ", line " + (mark.getLine() + 1)).orElse("");
      throw new UsageException(file + where + ": is no YAML: " + e.getProblem());
    } catch (YamlEngineException e) {
      throw new UsageException(file + ": is no YAML: " + e.getMessage());
    } catch (IOException e) {
      throw new UsageException(file + ": cannot be read: " + e.getMessage());
    }
  }
}
