package lipsanon.cli.command.check;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.JsonToken;
import java.io.IOException;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.Map;
import lipsanon.cli.UsageException;

/** The values of an earlier run: its answer as JSON. */
final class Baseline {
  private Baseline() {}

  /** By name of the budget. */
  static Map<String, Long> read(Path file) {
    Map<String, Long> values = new HashMap<>();
    boolean gate = false;
    try (JsonParser json = new JsonFactory().createParser(file.toFile())) {
      String name = null;
      while (json.nextToken() != null) {
        if (json.currentToken() != JsonToken.FIELD_NAME) {
          continue;
        }
        String key = json.currentName();
        json.nextToken();
        switch (key) {
          case "answer" -> gate = json.getText().equals("gate");
          case "name" -> name = json.getText();
          case "value" -> values.put(name, json.getLongValue());
          default -> {
            // says nothing of values
          }
        }
      }
    } catch (IOException e) {
      throw new UsageException("--baseline " + file + ": cannot be read as JSON");
    }
    if (!gate) {
      throw new UsageException(
          "--baseline " + file + ": is no answer of gate; make one with lipsanon gate ... --json");
    }
    return values;
  }
}
