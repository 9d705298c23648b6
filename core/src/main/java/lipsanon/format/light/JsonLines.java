package lipsanon.format.light;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.JsonToken;
import java.io.BufferedReader;
import java.io.IOException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import lipsanon.io.CorruptInputException;
import lipsanon.io.InputException;

/**
 * Reads a file of one JSON object a line: texts, whole numbers, truth values, and lists of such
 * objects. Positions in its errors are numbers of lines.
 */
final class JsonLines {
  /** A count of 1,000 types with long names has some 300 kB. */
  private static final int LONGEST_LINE = 16 << 20;

  private final String name;
  private final BufferedReader in;
  private final JsonFactory factory = new JsonFactory();
  private long line;

  /** Reads from a file of that name. */
  JsonLines(String name, BufferedReader in) {
    this.name = name;
    this.in = in;
  }

  /** The number of the line that was read last, from 1. */
  long line() {
    return line;
  }

  /** Whether nothing comes any more. */
  boolean ended() throws IOException {
    in.mark(1);
    boolean ended = in.read() < 0;
    if (!ended) {
      in.reset();
    }
    return ended;
  }

  /** The next line; null at the end. */
  Line next() throws IOException {
    StringBuilder text = new StringBuilder();
    int c = in.read();
    if (c < 0) {
      return null;
    }
    line++;
    for (; c >= 0 && c != '\n'; c = in.read()) {
      text.append((char) c);
      if (text.length() > LONGEST_LINE) {
        throw new CorruptInputException(name, line, "a line without end", "an object");
      }
    }
    try (JsonParser json = factory.createParser(text.toString())) {
      if (json.nextToken() != JsonToken.START_OBJECT) {
        throw new CorruptInputException(name, line, "no object", "an object");
      }
      return object(json);
    } catch (InputException e) {
      throw e;
    } catch (IOException e) {
      throw new CorruptInputException(name, line, "a line that is no JSON", "an object");
    }
  }

  private Line object(JsonParser json) throws IOException {
    Map<String, Object> values = new HashMap<>();
    while (json.nextToken() == JsonToken.FIELD_NAME) {
      String key = json.currentName();
      JsonToken token = json.nextToken();
      if (token == JsonToken.VALUE_NUMBER_INT) {
        values.put(key, json.getLongValue());
      } else if (token == JsonToken.VALUE_TRUE || token == JsonToken.VALUE_FALSE) {
        values.put(key, json.getBooleanValue());
      } else if (token == JsonToken.START_ARRAY) {
        values.put(key, list(json));
      } else if (token.isScalarValue()) {
        values.put(key, json.getText());
      } else {
        json.skipChildren();
      }
    }
    return new Line(values);
  }

  private List<Line> list(JsonParser json) throws IOException {
    List<Line> lines = new ArrayList<>();
    for (JsonToken t = json.nextToken(); t != JsonToken.END_ARRAY; t = json.nextToken()) {
      if (t == null) {
        throw new CorruptInputException(name, line, "a list without end", "its end");
      }
      if (t == JsonToken.START_OBJECT) {
        lines.add(flat(json));
      }
    }
    return lines;
  }

  /** An object without lists: no depth of nesting is gone into. */
  private Line flat(JsonParser json) throws IOException {
    Map<String, Object> values = new HashMap<>();
    while (json.nextToken() == JsonToken.FIELD_NAME) {
      String key = json.currentName();
      JsonToken token = json.nextToken();
      if (token == JsonToken.VALUE_NUMBER_INT) {
        values.put(key, json.getLongValue());
      } else if (token.isScalarValue()) {
        values.put(key, json.getText());
      } else {
        json.skipChildren();
      }
    }
    return new Line(values);
  }

  /** The values of an object. */
  final class Line {
    private final Map<String, Object> values;

    private Line(Map<String, Object> values) {
      this.values = values;
    }

    boolean has(String key) {
      return values.containsKey(key);
    }

    boolean truth(String key) {
      return Boolean.TRUE.equals(values.get(key));
    }

    String text(String key) throws IOException {
      if (values.get(key) instanceof String text) {
        return text;
      }
      throw new CorruptInputException(name, line, "no text \"" + key + "\"", "one");
    }

    long number(String key) throws IOException {
      if (values.get(key) instanceof Long number) {
        return number;
      }
      throw new CorruptInputException(name, line, "no number \"" + key + "\"", "one");
    }

    /** A count or size, small enough that no sum of them overflows. */
    long size(String key) throws IOException {
      long number = number(key);
      if (number < 0 || number > 1L << 56) {
        throw new CorruptInputException(name, line, key + " " + number, "a count or size");
      }
      return number;
    }

    List<Line> list(String key) throws IOException {
      if (values.get(key) instanceof List<?> list) {
        return list.stream().map(Line.class::cast).toList();
      }
      throw new CorruptInputException(name, line, "no list \"" + key + "\"", "one");
    }
  }
}
