package lipsanon.fleet;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonGenerator;
import com.fasterxml.jackson.core.JsonParser;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.util.HexFormat;
import java.util.List;
import java.util.Map;

/**
 * What a task's process is told on its standard input: one JSON object of texts.
 *
 * @param item the snapshot
 * @param file where it lies now
 * @param scratch an empty folder
 * @param memoryBytes that it may use
 * @param hidingKey 16 bytes
 * @param mine own packages, may be empty
 */
record Job(
    Item item, String file, String scratch, long memoryBytes, byte[] hidingKey, List<String> mine) {
  void write(OutputStream out) throws IOException {
    try (JsonGenerator json = new JsonFactory().createGenerator(out)) {
      json.writeStartObject();
      Plan.write(json, item);
      json.writeStringField("file", file);
      json.writeStringField("scratch", scratch);
      json.writeStringField("memory", Long.toString(memoryBytes));
      json.writeStringField("key", HexFormat.of().formatHex(hidingKey));
      json.writeStringField("mine", String.join(",", mine));
      json.writeEndObject();
    }
  }

  static Job read(InputStream in) throws IOException {
    Map<String, String> texts;
    try (JsonParser json = new JsonFactory().createParser(in)) {
      json.nextToken();
      texts = Plan.texts(json);
    }
    String mine = texts.get("mine");
    return new Job(
        Plan.item(texts),
        texts.get("file"),
        texts.get("scratch"),
        Long.parseLong(texts.get("memory")),
        HexFormat.of().parseHex(texts.get("key")),
        mine.isEmpty() ? List.of() : List.of(mine.split(",")));
  }
}
