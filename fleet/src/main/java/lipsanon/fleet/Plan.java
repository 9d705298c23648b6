package lipsanon.fleet;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonGenerator;
import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.JsonToken;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HexFormat;
import java.util.List;
import java.util.Map;

/**
 * What a cluster's job is to do, as a file: JSON Lines, the first one of how, the others of the
 * snapshots.
 *
 * @param tables where the tables are
 * @param memoryBytes that one task may use
 * @param hidingKey 16 bytes
 * @param mine own packages, may be empty
 * @param timeoutMillis after which a task is ended
 * @param items the snapshots
 */
public record Plan(
    String tables,
    long memoryBytes,
    byte[] hidingKey,
    List<String> mine,
    long timeoutMillis,
    List<Item> items) {

  /** Writes. */
  public void write(Path file) throws IOException {
    try (JsonGenerator json = new JsonFactory().createGenerator(Files.newOutputStream(file))) {
      json.setRootValueSeparator(new com.fasterxml.jackson.core.io.SerializedString("\n"));
      json.writeStartObject();
      json.writeStringField("tables", tables);
      json.writeStringField("memory", Long.toString(memoryBytes));
      json.writeStringField("key", HexFormat.of().formatHex(hidingKey));
      json.writeStringField("mine", String.join(",", mine));
      json.writeStringField("timeout", Long.toString(timeoutMillis));
      json.writeEndObject();
      for (Item item : items) {
        json.writeStartObject();
        write(json, item);
        json.writeEndObject();
      }
    }
  }

  /** Reads what {@link #write} wrote. */
  public static Plan read(Path file) throws IOException {
    try (JsonParser json = new JsonFactory().createParser(Files.newInputStream(file))) {
      json.nextToken();
      Map<String, String> how = texts(json);
      List<Item> items = new ArrayList<>();
      while (json.nextToken() == JsonToken.START_OBJECT) {
        items.add(item(texts(json)));
      }
      String mine = how.get("mine");
      return new Plan(
          how.get("tables"),
          Long.parseLong(how.get("memory")),
          HexFormat.of().parseHex(how.get("key")),
          mine.isEmpty() ? List.of() : List.of(mine.split(",")),
          Long.parseLong(how.get("timeout")),
          items);
    }
  }

  /** The fields of an object of texts, whose start was read. */
  static Map<String, String> texts(JsonParser json) throws IOException {
    Map<String, String> texts = new HashMap<>();
    while (json.nextToken() == JsonToken.FIELD_NAME) {
      texts.put(json.currentName(), json.nextTextValue());
    }
    return texts;
  }

  /** The snapshot that such fields tell. */
  static Item item(Map<String, String> texts) {
    return new Item(
        texts.get("address"),
        new Labels(
            texts.get("service"),
            texts.get("build"),
            texts.get("host"),
            Instant.parse(texts.get("taken"))),
        Long.parseLong(texts.get("bytes")));
  }

  /** The fields of a snapshot. */
  static void write(JsonGenerator json, Item item) throws IOException {
    json.writeStringField("address", item.address());
    json.writeStringField("service", item.labels().service());
    json.writeStringField("build", item.labels().build());
    json.writeStringField("host", item.labels().host());
    json.writeStringField("taken", item.labels().taken().toString());
    json.writeStringField("bytes", Long.toString(item.bytes()));
  }
}
