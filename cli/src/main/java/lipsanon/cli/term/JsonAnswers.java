package lipsanon.cli.term;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonGenerator;
import java.io.IOException;
import java.io.PrintWriter;
import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.RecordComponent;

/**
 * Writes answers as JSON: one object, the record's component names as keys. So the answers of the
 * core are the contract, and nothing has to be kept in step.
 */
public final class JsonAnswers {
  /** Raised when a key changes its meaning or goes; new keys do not raise it. */
  private static final int VERSION = 1;

  private JsonAnswers() {}

  /** Writes {@code {"answer": name, "version": 1, ...components}}. */
  public static void write(PrintWriter out, String name, Record answer) throws IOException {
    JsonGenerator json = new JsonFactory().createGenerator(out);
    json.disable(JsonGenerator.Feature.AUTO_CLOSE_TARGET);
    json.useDefaultPrettyPrinter();
    json.writeStartObject();
    json.writeStringField("answer", name);
    json.writeNumberField("version", VERSION);
    components(json, answer);
    json.writeEndObject();
    json.flush();
    json.close();
    out.println();
    out.flush();
  }

  private static void components(JsonGenerator json, Record value) throws IOException {
    for (RecordComponent component : value.getClass().getRecordComponents()) {
      json.writeFieldName(component.getName());
      try {
        component.getAccessor().setAccessible(true);
        value(json, component.getAccessor().invoke(value));
      } catch (IllegalAccessException | InvocationTargetException e) {
        throw new IllegalStateException(e);
      }
    }
  }

  private static void value(JsonGenerator json, Object value) throws IOException {
    if (value == null) {
      json.writeNull();
    } else if (value instanceof Record part) {
      json.writeStartObject();
      components(json, part);
      json.writeEndObject();
    } else if (value instanceof Iterable<?> list) {
      json.writeStartArray();
      for (Object element : list) {
        value(json, element);
      }
      json.writeEndArray();
    } else if (value instanceof Boolean truth) {
      json.writeBoolean(truth);
    } else if (value instanceof Double number) {
      json.writeNumber(Math.round(number * 1e6) / 1e6);
    } else if (value instanceof Number number) {
      json.writeNumber(number.longValue());
    } else {
      json.writeString(value.toString());
    }
  }
}
