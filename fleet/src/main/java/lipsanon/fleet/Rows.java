package lipsanon.fleet;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonGenerator;
import java.io.Closeable;
import java.io.IOException;
import java.io.OutputStream;
import java.time.Instant;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.List;

/**
 * Writes rows of the tables as JSON Lines: {@code {"table": "holders", "task": …, …}}. Not in
 * memory as a whole; names as {@link FleetSchema} has them.
 */
final class Rows implements Closeable {
  private static final DateTimeFormatter TIME =
      DateTimeFormatter.ofPattern("yyyy-MM-dd HH:mm:ss.SSS").withZone(ZoneOffset.UTC);

  private final JsonGenerator json;
  private final Item item;

  Rows(OutputStream out, Item item) throws IOException {
    this.json = new JsonFactory().createGenerator(out);
    this.item = item;
    json.setRootValueSeparator(new com.fasterxml.jackson.core.io.SerializedString("\n"));
  }

  /** A row: the values of the table's own columns, in their order. */
  void row(FleetSchema table, Object... values) throws IOException {
    Labels labels = item.labels();
    List<String> names = table.names();
    Object[] label = {
      item.key(),
      item.address(),
      labels.service(),
      labels.build(),
      labels.host(),
      labels.taken(),
      labels.day().toString()
    };
    if (names.size() != label.length + values.length) {
      throw new IllegalArgumentException(table + " has other columns");
    }
    json.writeStartObject();
    json.writeStringField("table", table.table());
    for (int i = 0; i < names.size(); i++) {
      write(names.get(i), i < label.length ? label[i] : values[i - label.length]);
    }
    json.writeEndObject();
  }

  private void write(String name, Object value) throws IOException {
    json.writeFieldName(name);
    if (value == null) {
      json.writeNull();
    } else if (value instanceof Boolean truth) {
      json.writeBoolean(truth);
    } else if (value instanceof Double number) {
      json.writeNumber(number);
    } else if (value instanceof Number number) {
      json.writeNumber(number.longValue());
    } else if (value instanceof Instant time) {
      json.writeString(time(time));
    } else {
      json.writeString(value.toString());
    }
  }

  static String time(Instant time) {
    return TIME.format(time);
  }

  /** The row of a snapshot that could not be looked at. */
  void failed(String problem) throws IOException {
    row(
        FleetSchema.SNAPSHOTS,
        "failed",
        problem,
        null,
        null,
        item.bytes() < 0 ? null : item.bytes(),
        null,
        null,
        null,
        null,
        null,
        null,
        null,
        Instant.now(),
        FleetSchema.VERSION);
  }

  void flush() throws IOException {
    json.flush();
  }

  @Override
  public void close() throws IOException {
    json.writeRaw('\n');
    json.close();
  }
}
