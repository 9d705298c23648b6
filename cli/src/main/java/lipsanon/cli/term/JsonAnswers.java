package lipsanon.cli.term;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonGenerator;
import com.fasterxml.jackson.core.SerializableString;
import com.fasterxml.jackson.core.io.CharacterEscapes;
import com.fasterxml.jackson.core.io.SerializedString;
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
    JsonGenerator json = new JsonFactory().setCharacterEscapes(new Escapes()).createGenerator(out);
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

  /** Writes a part of an answer on a line of its own. */
  public static void line(PrintWriter out, Record part) throws IOException {
    JsonGenerator json = new JsonFactory().setCharacterEscapes(new Escapes()).createGenerator(out);
    json.disable(JsonGenerator.Feature.AUTO_CLOSE_TARGET);
    json.writeStartObject();
    components(json, part);
    json.writeEndObject();
    json.close();
    out.println();
  }

  /** JSON lets through what would act on a terminal that it is shown on. */
  private static final class Escapes extends CharacterEscapes {
    private static final long serialVersionUID = 1L;
    private final int[] ascii = CharacterEscapes.standardAsciiEscapesForJSON();

    Escapes() {
      ascii[0x7f] = CharacterEscapes.ESCAPE_STANDARD;
    }

    @Override
    public int[] getEscapeCodesForAscii() {
      return ascii;
    }

    @Override
    public SerializableString getEscapeSequence(int c) {
      return SafeText.acts(c) && !Character.isSurrogate((char) c)
          ? new SerializedString(String.format("\\u%04x", c))
          : null;
    }
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
