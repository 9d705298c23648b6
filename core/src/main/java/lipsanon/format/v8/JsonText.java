package lipsanon.format.v8;

import com.fasterxml.jackson.core.JacksonException;
import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.JsonToken;
import java.io.IOException;
import lipsanon.io.ByteSource;
import lipsanon.io.CorruptInputException;
import lipsanon.io.SourceStream;

/** Reads single JSON strings out of the middle of a file. */
final class JsonText {
  private static final int SHORT = 512;

  private JsonText() {}

  /** The string whose opening quote stands at a place. */
  static String at(ByteSource source, long position) throws IOException {
    byte[] bytes = new byte[SHORT];
    int got = source.read(position, bytes, 0, bytes.length);
    // nearly all names are short and plain
    for (int i = 1; i < got && bytes[i] != '\\' && bytes[i] >= 0; i++) {
      if (bytes[i] == '"') {
        return new String(bytes, 1, i - 1, java.nio.charset.StandardCharsets.US_ASCII);
      }
    }
    try (JsonParser json =
        V8Format.JSON.createParser(new SourceStream(source, position, source.size()))) {
      if (json.nextToken() == JsonToken.VALUE_STRING) {
        return json.getText();
      }
    } catch (JacksonException e) {
      // reported below
    }
    throw new CorruptInputException(
        source.name(), position, "no string", "one (index the snapshot again)");
  }
}
