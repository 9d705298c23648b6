package lipsanon.format.v8;

import com.fasterxml.jackson.core.JsonParseException;
import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.JsonToken;
import com.fasterxml.jackson.core.exc.StreamConstraintsException;
import com.fasterxml.jackson.core.io.JsonEOFException;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.SequenceInputStream;
import java.nio.charset.StandardCharsets;
import java.util.HashMap;
import java.util.Map;
import lipsanon.io.ByteSource;
import lipsanon.io.CorruptInputException;
import lipsanon.io.SourceStream;
import lipsanon.io.TruncatedInputException;
import lipsanon.io.UnsupportedInputException;

/**
 * Where the members of a snapshot stand. The two huge lists of numbers are jumped over to their
 * closing bracket; everything else goes through a JSON parser.
 */
final class V8File {
  /** Opens an object with one member, so that a parser can go on in the middle of the file. */
  private static final byte[] RESUME = "{\"\":0".getBytes(StandardCharsets.US_ASCII);

  private final ByteSource source;

  /** By member: where its value begins; of a list, where its first element may stand. */
  final Map<String, Long> begins = new HashMap<>();

  V8Meta meta;

  /** The names. */
  final StringTable strings;

  private V8File(ByteSource source) {
    this.source = source;
    this.strings = new StringTable(source);
  }

  static boolean matches(byte[] head) {
    String text = new String(head, StandardCharsets.ISO_8859_1).replaceAll("\\s", "");
    return text.startsWith(V8Format.MAGIC);
  }

  /**
   * Finds all members and the places of all strings.
   *
   * @throws lipsanon.io.InputException if the file is damaged, cut off or no snapshot
   */
  static V8File scan(ByteSource source) throws IOException {
    V8File file = new V8File(source);
    long at = 0;
    while (at >= 0) {
      at = file.members(at);
    }
    for (String needed : new String[] {"nodes", "edges", "strings"}) {
      if (!file.begins.containsKey(needed)) {
        throw new UnsupportedInputException(
            source.name(), "is JSON, but no V8 heap snapshot: it has no \"" + needed + "\"");
      }
    }
    return file;
  }

  /** Parses members from a place on; returns where to go on behind a huge list, or -1. */
  private long members(long from) throws IOException {
    SourceStream rest = new SourceStream(source, from, source.size());
    // offsets that the parser tells are of its stream: this is the file's position of its byte 0
    long base = from == 0 ? 0 : from - RESUME.length;
    try (JsonParser json =
        V8Format.JSON.createParser(
            from == 0 ? rest : new SequenceInputStream(new ByteArrayInputStream(RESUME), rest))) {
      json.nextToken();
      if (json.currentToken() != JsonToken.START_OBJECT) {
        throw new UnsupportedInputException(source.name(), "is no V8 heap snapshot");
      }
      if (from != 0) {
        json.nextToken();
        json.nextToken();
      }
      while (json.nextToken() == JsonToken.FIELD_NAME) {
        String name = json.currentName();
        json.nextToken();
        long begin = base + json.currentTokenLocation().getByteOffset();
        boolean huge = name.equals("nodes") || name.equals("edges");
        if (huge && json.currentToken() == JsonToken.START_ARRAY) {
          begins.put(name, begin + 1);
          return bracket(begin + 1) + 1;
        }
        member(json, name, begin, base);
      }
      return -1;
    } catch (JsonEOFException e) {
      throw new TruncatedInputException(
          source.name(), source.size(), "the rest of the snapshot (names of types come last)");
    } catch (JsonParseException | StreamConstraintsException e) {
      throw new CorruptInputException(
          source.name(),
          base + Math.max(0, e.getLocation() == null ? 0 : e.getLocation().getByteOffset()),
          "what is no JSON",
          "a V8 heap snapshot");
    }
  }

  private void member(JsonParser json, String name, long begin, long base) throws IOException {
    boolean list = json.currentToken() == JsonToken.START_ARRAY;
    begins.put(name, list ? begin + 1 : begin);
    if (name.equals("snapshot")) {
      meta = V8Meta.read(json, source.name());
    } else if (name.equals("strings") && list) {
      strings.read(json, base);
    } else {
      json.skipChildren();
    }
  }

  /** Where the next closing bracket stands. */
  private long bracket(long from) throws IOException {
    byte[] bytes = new byte[1 << 19];
    for (long at = from; ; ) {
      int got = source.read(at, bytes, 0, bytes.length);
      for (int i = 0; i < got; i++) {
        if (bytes[i] == ']') {
          return at + i;
        }
      }
      if (got <= 0) {
        throw new TruncatedInputException(
            source.name(), source.size(), "the rest of the snapshot (names of types come last)");
      }
      at += got;
    }
  }
}
