package lipsanon.cli.command.share;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonGenerator;
import com.fasterxml.jackson.core.util.MinimalPrettyPrinter;
import java.io.IOException;
import java.io.Writer;
import java.util.List;

/** Rows as JSON, an object a line. */
final class JsonRows implements TextRows {
  private final JsonGenerator json;
  private final List<String> columns;

  JsonRows(Writer out, List<String> columns) throws IOException {
    this.json = new JsonFactory().createGenerator(out);
    this.columns = columns;
    json.setPrettyPrinter(new MinimalPrettyPrinter("\n"));
  }

  @Override
  public void row(Object... values) throws IOException {
    json.writeStartObject();
    for (int i = 0; i < values.length; i++) {
      json.writeFieldName(columns.get(i));
      if (values[i] == null) {
        json.writeNull();
      } else if (values[i] instanceof Boolean truth) {
        json.writeBoolean(truth);
      } else if (values[i] instanceof Long number) {
        json.writeNumber(number);
      } else {
        json.writeString(values[i].toString());
      }
    }
    json.writeEndObject();
  }

  @Override
  public void flush() throws IOException {
    json.flush();
  }
}
