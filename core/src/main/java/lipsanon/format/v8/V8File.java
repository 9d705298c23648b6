package lipsanon.format.v8;

import com.fasterxml.jackson.core.JacksonException;
import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.JsonToken;
import com.fasterxml.jackson.core.io.JsonEOFException;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.SequenceInputStream;
import java.nio.charset.StandardCharsets;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Consumer;
import lipsanon.io.ByteSource;
import lipsanon.io.CorruptInputException;
import lipsanon.io.SourceStream;
import lipsanon.io.TruncatedInputException;
import lipsanon.io.UnsupportedInputException;

/**
 * Where the members of a snapshot stand. The huge lists of numbers are jumped over to their closing
 * bracket; everything else goes through a JSON parser.
 */
final class V8File {
  /** Opens an object with one member, so that a parser can go on in the middle of the file. */
  private static final byte[] RESUME = "{\"\":0".getBytes(StandardCharsets.US_ASCII);

  private final ByteSource source;

  /** By member: where its value begins; of a list, where its first element may stand. */
  final Map<String, Long> begins = new ConcurrentHashMap<>();

  V8Meta meta;

  /** The huge lists, by member, once they are looked over. */
  final Map<String, NumberList> lists = new ConcurrentHashMap<>();

  /** The names. */
  final StringTable strings;

  /** The huge list at whose beginning parsing stopped, or null at the end of the file. */
  private String list;

  private V8File(ByteSource source) {
    this.source = source;
    this.strings = new StringTable(source);
  }

  static boolean matches(byte[] head) {
    String text = new String(head, StandardCharsets.ISO_8859_1).replaceAll("\\s", "");
    return text.startsWith(V8Format.MAGIC);
  }

  /**
   * Reads what stands before the nodes: all that is needed to read them.
   *
   * @throws lipsanon.io.InputException if the file is damaged, cut off or no snapshot
   */
  static V8File scan(ByteSource source) throws IOException {
    V8File file = new V8File(source);
    file.members(0);
    if (file.meta == null || !file.begins.containsKey("nodes")) {
      throw new UnsupportedInputException(
          source.name(), "is JSON, but no V8 heap snapshot: it does not begin with its columns");
    }
    return file;
  }

  /**
   * Finds what stands behind the beginning of the nodes, the names above all.
   *
   * @param nodes hears of the list of nodes once it is looked over
   */
  void readRest(Consumer<NumberList> nodes) throws IOException {
    while (list != null) {
      String name = list;
      list = null;
      NumberList numbers = NumberList.scan(source, begins.get(name));
      lists.put(name, numbers);
      if (name.equals("nodes")) {
        nodes.accept(numbers);
      }
      members(numbers.end() + 1);
    }
    for (String needed : new String[] {"nodes", "edges", "strings"}) {
      if (!begins.containsKey(needed)) {
        throw new UnsupportedInputException(
            source.name(), "is JSON, but no V8 heap snapshot: it has no \"" + needed + "\"");
      }
    }
  }

  /** Parses members from a place on, up to the end or the beginning of a huge list. */
  private void members(long from) throws IOException {
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
        if (isHuge(name) && json.currentToken() == JsonToken.START_ARRAY) {
          begins.put(name, begin + 1);
          list = name;
          return;
        }
        member(json, name, begin, base);
      }
      JsonToken behind = json.nextToken();
      if (behind != null) {
        throw new CorruptInputException(
            source.name(),
            base + json.currentTokenLocation().getByteOffset(),
            "more text",
            "the file's end, since the snapshot is complete");
      }
    } catch (JsonEOFException e) {
      throw new TruncatedInputException(
          source.name(), source.size(), "the rest of the snapshot (names of types come last)");
    } catch (JacksonException e) {
      throw new CorruptInputException(
          source.name(),
          base + Math.max(0, e.getLocation() == null ? 0 : e.getLocation().getByteOffset()),
          "what is no JSON",
          "a V8 heap snapshot");
    }
  }

  /** Whether a member is a flat list of very many numbers, which others read. */
  private boolean isHuge(String name) {
    return name.equals("nodes")
        || name.equals("edges")
        || name.equals("locations") && begins.containsKey("edges");
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
}
