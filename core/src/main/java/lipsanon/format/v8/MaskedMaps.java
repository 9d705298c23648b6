package lipsanon.format.v8;

import com.fasterxml.jackson.core.JsonGenerator;
import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.JsonToken;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.util.Set;
import lipsanon.io.ByteSource;
import lipsanon.io.SourceStream;
import lipsanon.redact.PathMask;

/**
 * The source maps of a snapshot for a copy that may be handed over: folders are hidden, names stay,
 * and of what is no part of a map only that it was there.
 *
 * @param end where the member ends in the file
 * @param json what to put in its place
 */
record MaskedMaps(long end, byte[] json) {
  private static final Set<String> ADDRESSES = Set.of("url", "base", "sourceRoot", "sources");
  private static final Set<String> PLAIN = Set.of("names", "mappings", "scopes");

  /** Reads the value of the member, which begins at a position. */
  static MaskedMaps read(ByteSource source, long position) throws IOException {
    ByteArrayOutputStream bytes = new ByteArrayOutputStream();
    long end;
    try (JsonParser from =
            V8Format.JSON.createParser(new SourceStream(source, position, source.size()));
        JsonGenerator to = V8Format.JSON.createGenerator(bytes)) {
      int depth = 0;
      String member = "";
      do {
        JsonToken token = from.nextToken();
        if (token == null) {
          break;
        }
        depth += token.isStructStart() ? 1 : token.isStructEnd() ? -1 : 0;
        member = token == JsonToken.FIELD_NAME ? from.currentName() : member;
        if (token == JsonToken.VALUE_STRING) {
          to.writeString(masked(member, from.getText()));
        } else {
          to.copyCurrentEvent(from);
        }
      } while (depth > 0);
      end = position + from.currentLocation().getByteOffset();
    }
    return new MaskedMaps(end, bytes.toByteArray());
  }

  private static String masked(String member, String text) {
    return ADDRESSES.contains(member)
        ? PathMask.of(text)
        : PLAIN.contains(member) ? text : "*".repeat(text.length());
  }
}
