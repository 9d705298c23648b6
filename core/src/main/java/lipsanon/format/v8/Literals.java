package lipsanon.format.v8;

import com.fasterxml.jackson.core.JsonParser;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import lipsanon.io.ByteSource;
import lipsanon.io.CorruptInputException;

/** Reads JSON strings one after another, forwards, and tells where each ends. One thread. */
final class Literals {
  private static final int BUFFER = 1 << 18;

  private final ByteSource source;
  private byte[] bytes = new byte[BUFFER];
  private long base;
  private int limit;
  private long end;

  Literals(ByteSource source) {
    this.source = source;
  }

  /** The string whose opening quote stands at a position. */
  String read(long position) throws IOException {
    int at = at(position, 2);
    int i = at + 1;
    boolean plain = true;
    while (true) {
      if (i >= limit) {
        int length = i - at;
        at = at(position, 2 * length + 2);
        i = at + length;
        if (i >= limit) {
          throw new CorruptInputException(
              source.name(), position, "a string without an end", "its closing quote");
        }
      }
      byte c = bytes[i];
      if (c == '"') {
        break;
      }
      plain &= c != '\\' && c >= 0;
      i += c == '\\' ? 2 : 1;
    }
    end = position + (i - at) + 1;
    if (plain) {
      return new String(bytes, at + 1, i - at - 1, StandardCharsets.US_ASCII);
    }
    try (JsonParser json = V8Format.JSON.createParser(bytes, at, i - at + 1)) {
      json.nextToken();
      return json.getText();
    }
  }

  /** Behind the closing quote of the last string. */
  long end() {
    return end;
  }

  private int at(long position, int needed) throws IOException {
    if (position < base || position + needed > base + limit) {
      if (needed > bytes.length) {
        bytes = Arrays.copyOf(bytes, Math.max(needed, 2 * bytes.length));
      }
      base = position;
      limit = Math.max(0, source.read(position, bytes, 0, bytes.length));
    }
    return (int) (position - base);
  }
}
