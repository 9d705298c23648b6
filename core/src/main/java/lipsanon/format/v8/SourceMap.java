package lipsanon.format.v8;

import com.fasterxml.jackson.core.JacksonException;
import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.JsonToken;
import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import lipsanon.array.IntList;

/**
 * Where the parts of a generated script were written: the standard ECMA-426, "Source map format",
 * with its index maps. What does not fit the standard is left out; a position in it has no
 * original.
 */
final class SourceMap {
  private static final int NONE = -1;
  private static final int MOST_SECTIONS_DEEP = 4;

  /** Segments; a script of 10 MB has a million. */
  private static final int MOST = 1 << 23;

  /**
   * Where something was written.
   *
   * @param source the address of the source
   * @param line from 0
   * @param column from 0
   * @param name what stands there, "" if the map does not say
   */
  record Original(String source, int line, int column, String name) {}

  private final String base;
  private final List<String> sources = new ArrayList<>();
  private final List<String> names = new ArrayList<>();

  /** By segment, ascending: its place in the script, and where that was written. */
  private final IntList lines = new IntList();

  private final IntList columns = new IntList();
  private final IntList ofSource = new IntList();
  private final IntList originalLines = new IntList();
  private final IntList originalColumns = new IntList();
  private final IntList ofName = new IntList();

  private SourceMap(String base) {
    this.base = base;
  }

  /**
   * Reads a map; the parser stands on its opening brace, and afterwards on the closing one.
   *
   * @param base the address of the map, or of its script: sources are told from there
   * @throws JacksonException if it is no JSON
   */
  static SourceMap read(JsonParser json, String base) throws IOException {
    SourceMap map = new SourceMap(base);
    map.object(json, 0, 0, 0);
    return map;
  }

  private void object(JsonParser json, int line, int column, int deep) throws IOException {
    String root = "";
    String mappings = "";
    List<String> of = List.of();
    List<String> named = List.of();
    while (json.nextToken() == JsonToken.FIELD_NAME) {
      String member = json.currentName();
      JsonToken value = json.nextToken();
      switch (member) {
        case "sourceRoot" -> root = value == JsonToken.VALUE_STRING ? json.getText() : "";
        case "mappings" -> mappings = value == JsonToken.VALUE_STRING ? json.getText() : "";
        case "sources" -> of = texts(json);
        case "names" -> named = texts(json);
        case "sections" -> sections(json, deep);
        default -> json.skipChildren();
      }
    }
    int firstSource = sources.size();
    int firstName = names.size();
    sources.addAll(SourceAddress.all(base, root, of));
    names.addAll(named);
    decode(new Vlq(mappings), line, column, firstSource, firstName);
  }

  private static List<String> texts(JsonParser json) throws IOException {
    List<String> texts = new ArrayList<>();
    if (json.currentToken() != JsonToken.START_ARRAY) {
      json.skipChildren();
      return texts;
    }
    while (json.nextToken() != JsonToken.END_ARRAY && json.currentToken() != null) {
      texts.add(json.currentToken() == JsonToken.VALUE_STRING ? json.getText() : "");
      json.skipChildren();
    }
    return texts;
  }

  /** Maps of parts of the script, one behind the other. */
  private void sections(JsonParser json, int deep) throws IOException {
    if (json.currentToken() != JsonToken.START_ARRAY || deep == MOST_SECTIONS_DEEP) {
      json.skipChildren();
      return;
    }
    while (json.nextToken() == JsonToken.START_OBJECT) {
      int[] offset = new int[2];
      while (json.nextToken() == JsonToken.FIELD_NAME) {
        String member = json.currentName();
        JsonToken value = json.nextToken();
        if (member.equals("offset") && value == JsonToken.START_OBJECT) {
          offset(json, offset);
        } else if (member.equals("map") && value == JsonToken.START_OBJECT) {
          object(json, offset[0], offset[1], deep + 1);
        } else {
          json.skipChildren();
        }
      }
    }
  }

  private static void offset(JsonParser json, int[] offset) throws IOException {
    while (json.nextToken() == JsonToken.FIELD_NAME) {
      int which = json.currentName().equals("line") ? 0 : 1;
      json.nextToken();
      offset[which] = Math.max(0, json.getValueAsInt(0));
      json.skipChildren();
    }
  }

  /** Segments of one, four or five numbers, each told from the one before. */
  private void decode(Vlq in, int line, int column, int firstSource, int firstName) {
    int at = line;
    int from = column;
    int source = 0;
    int originalLine = 0;
    int originalColumn = 0;
    int name = 0;
    int generated = 0;
    while (in.more()) {
      if (in.take(';')) {
        at++;
        from = 0;
        generated = 0;
        continue;
      }
      if (in.take(',')) {
        continue;
      }
      generated += in.number();
      boolean written = in.within();
      boolean named = false;
      if (written) {
        source += in.number();
        originalLine += in.number();
        originalColumn += in.number();
        named = in.within();
        name += named ? in.number() : 0;
      }
      if (in.broken() || lines.size() == MOST) {
        return;
      }
      if (!follows(at, from + generated)) {
        continue;
      }
      written &=
          source >= 0
              && source < sources.size() - firstSource
              && !sources.get(firstSource + source).isEmpty()
              && originalLine >= 0;
      named &= name >= 0 && name < names.size() - firstName;
      lines.add(at);
      columns.add(from + generated);
      ofSource.add(written ? firstSource + source : NONE);
      originalLines.add(originalLine);
      originalColumns.add(Math.max(0, originalColumn));
      ofName.add(written && named ? firstName + name : NONE);
    }
  }

  /** Whether a place lies not before the last one noted. */
  private boolean follows(int line, int column) {
    int last = lines.size() - 1;
    return column >= 0
        && (last < 0
            || line > lines.get(last)
            || line == lines.get(last) && column >= columns.get(last));
  }

  /** Number of places that are told. */
  int size() {
    return lines.size();
  }

  /**
   * Where a place in the script was written.
   *
   * @param line from 0
   * @param column from 0
   * @return null if the map does not say
   */
  Original original(int line, int column) {
    int found = last(line, column);
    return found < 0 || lines.get(found) != line || ofSource.get(found) < 0
        ? null
        : new Original(
            sources.get(ofSource.get(found)),
            originalLines.get(found),
            originalColumns.get(found),
            columns.get(found) == column && ofName.get(found) >= 0
                ? names.get(ofName.get(found))
                : "");
  }

  /**
   * The name of a function as it was written: the one in the script may have been made short.
   *
   * @param line where its parameters begin, behind its name as in {@code name(} or {@code name=(}
   * @param column likewise
   * @param name in the script, "" if it has none there
   */
  String written(int line, int column, String name) {
    int begin = column - name.length();
    for (int before = 0; !name.isEmpty() && before < 2 && begin >= before; before++) {
      Original at = original(line, begin - before);
      if (at != null && !at.name().isEmpty()) {
        return at.name();
      }
    }
    return name;
  }

  /** The last segment that begins at a place or before it, or -1. */
  private int last(int line, int column) {
    int low = 0;
    int high = lines.size() - 1;
    while (low <= high) {
      int middle = low + high >>> 1;
      int compared = Integer.compare(lines.get(middle), line);
      compared = compared != 0 ? compared : Integer.compare(columns.get(middle), column);
      if (compared <= 0) {
        low = middle + 1;
      } else {
        high = middle - 1;
      }
    }
    return high;
  }
}
