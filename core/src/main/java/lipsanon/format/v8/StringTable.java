package lipsanon.format.v8;

import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.JsonToken;
import java.io.IOException;
import java.util.Arrays;
import java.util.BitSet;
import java.util.HashMap;
import java.util.Map;
import lipsanon.io.ByteSource;
import lipsanon.io.CorruptInputException;

/**
 * Where the names of a snapshot stand in its file: 8 bytes a name; texts are read when asked for.
 */
final class StringTable {
  /** How the name of an edge from a weak map's table ends; a number and a bracket follow. */
  private static final String TABLE = "(table @";

  private final ByteSource source;
  private final Map<Integer, String> cache = new HashMap<>();
  private final BitSet ofWeakMaps = new BitSet();
  private long[] positions = new long[1024];
  private int count;

  StringTable(ByteSource source) {
    this.source = source;
  }

  /** Notes all strings of a list; the parser stands on its opening bracket. */
  void read(JsonParser json, long base) throws IOException {
    while (json.nextToken() != JsonToken.END_ARRAY) {
      long at = base + json.currentTokenLocation().getByteOffset();
      if (json.currentToken() != JsonToken.VALUE_STRING) {
        throw new CorruptInputException(source.name(), at, "a name that is no string", "one");
      }
      if (count == positions.length) {
        positions = Arrays.copyOf(positions, count * 2);
      }
      if (endsLikeWeakMap(json)) {
        ofWeakMaps.set(count);
      }
      positions[count++] = at;
    }
  }

  private static boolean endsLikeWeakMap(JsonParser json) throws IOException {
    int length = json.getTextLength();
    if (length < TABLE.length() + 2) {
      return false;
    }
    char[] text = json.getTextCharacters();
    int at = json.getTextOffset() + length - 1;
    if (text[at] != ')') {
      return false;
    }
    for (at--; at > json.getTextOffset() && text[at] >= '0' && text[at] <= '9'; ) {
      at--;
    }
    int begin = at - TABLE.length() + 1;
    return begin >= json.getTextOffset() && new String(text, begin, TABLE.length()).equals(TABLE);
  }

  int count() {
    return count;
  }

  long position(int index) {
    return positions[index];
  }

  /** The identifier of the table that an edge of this name belongs to, or -1. */
  long weakMapTable(int index) throws IOException {
    return ofWeakMaps.get(index) ? tableOf(text(index)) : -1;
  }

  /** The identifier of the table that an edge of a name belongs to, or -1. */
  static long tableOf(String name) {
    int at = name.lastIndexOf(TABLE);
    if (at < 0 || !name.endsWith(")")) {
      return -1;
    }
    String digits = name.substring(at + TABLE.length(), name.length() - 1);
    return digits.isEmpty() || digits.length() > 18 || !digits.chars().allMatch(Character::isDigit)
        ? -1
        : Long.parseLong(digits);
  }

  /** A name; remembered, so for those that are needed again and again. */
  String text(int index) throws IOException {
    String known = cache.get(index);
    if (known == null) {
      known = JsonText.at(source, positions[index]);
      cache.put(index, known);
    }
    return known;
  }
}
