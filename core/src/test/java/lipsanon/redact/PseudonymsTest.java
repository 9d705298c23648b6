package lipsanon.redact;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import java.util.HashMap;
import java.util.HashSet;
import java.util.HexFormat;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** What stands in place of contents. */
class PseudonymsTest {
  private static byte[] key(int first) {
    byte[] key = new byte[SipHash.KEY_BYTES];
    for (int i = 0; i < key.length; i++) {
      key[i] = (byte) (first + i);
    }
    return key;
  }

  /** The vectors of the reference code for a result of 128 bits. */
  @ParameterizedTest
  @CsvSource({
    "0, a3817f04ba25a8e66df67214c7550293",
    "1, da87c1d86b99af44347659119b22fc45",
    "2, 8177228da4a45dc7fca38bdef60affe4",
    "8, 3b62a9ba6258f5610f83e264f31497b4"
  })
  void hashesAsTheReferenceDoes(int length, String expected) {
    byte[] input = new byte[length];
    for (int i = 0; i < length; i++) {
      input[i] = (byte) i;
    }
    SipHash hash = new SipHash(key(0)).hash(input, 0, length);
    byte[] result = new byte[16];
    for (int i = 0; i < 8; i++) {
      result[i] = (byte) (hash.first() >>> 8 * i);
      result[8 + i] = (byte) (hash.second() >>> 8 * i);
    }
    assertThat(HexFormat.of().formatHex(result)).isEqualTo(expected);
  }

  @Test
  void numbersGetOthersOneByOne() {
    Pseudonyms pseudonyms = new Pseudonyms(key(7));
    for (int bytes = 1; bytes <= 2; bytes++) {
      Set<Long> seen = new HashSet<>();
      boolean moved = false;
      for (long value = 0; value < 1L << 8 * bytes; value++) {
        long other = pseudonyms.number(value, bytes);
        assertThat(other).isBetween(0L, (1L << 8 * bytes) - 1);
        moved |= other != value;
        assertThat(seen.add(other)).isTrue();
      }
      assertThat(moved).isTrue();
    }
    assertThat(new Pseudonyms(null).number(4711, 4)).isZero();
  }

  /** Equal contents stay equal, others differ, and nothing of a text is left. */
  @ParameterizedTest
  @ValueSource(ints = {1, 2, 3, 4, 5, 9, 16, 17, 40})
  void bytesKeepTheirEquality(int length) {
    Pseudonyms pseudonyms = new Pseudonyms(key(3));
    Random random = new Random(length);
    Map<String, String> forward = new HashMap<>();
    Map<String, String> backward = new HashMap<>();
    for (int i = 0; i < 3000; i++) {
      int from = 1 + random.nextInt(9);
      byte[] bytes = new byte[from + length + 1];
      for (int k = from; k < from + length; k++) {
        bytes[k] = (byte) ('a' + random.nextInt(length < 6 ? 6 : 2));
      }
      String before = new String(bytes, from, length, StandardCharsets.ISO_8859_1);
      pseudonyms.text(bytes, from, from + length);
      String after = new String(bytes, from, length, StandardCharsets.ISO_8859_1);
      assertThat(bytes[from - 1]).as("what stands beside it").isZero();
      assertThat(bytes[from + length]).isZero();
      assertThat(forward.putIfAbsent(before, after)).isIn(null, after);
      assertThat(backward.putIfAbsent(after, before)).isIn(null, before);
      if (length >= TextTraces.SHORTEST) {
        assertThat(after).doesNotMatch(".*[\\x00-\\x7f].*");
      }
    }
  }

  @ParameterizedTest
  @ValueSource(ints = {0, 1, 2, 5, 6, 7, 30})
  void textsKeepTheirEquality(int length) {
    Pseudonyms pseudonyms = new Pseudonyms(key(5));
    Random random = new Random(length);
    Map<String, String> forward = new HashMap<>();
    Map<String, String> backward = new HashMap<>();
    for (int i = 0; i < 2000; i++) {
      StringBuilder text = new StringBuilder();
      for (int k = 0; k < length; k++) {
        text.append((char) ('a' + random.nextInt(4)));
      }
      String after = pseudonyms.text(text.toString());
      assertThat(after).hasSize(length);
      assertThat(forward.putIfAbsent(text.toString(), after)).isIn(null, after);
      assertThat(backward.putIfAbsent(after, text.toString())).isIn(null, text.toString());
    }
    assertThat(new Pseudonyms(null).text("berth")).isEqualTo("*****");
  }

  @ParameterizedTest
  @CsvSource({
    "file:/home/alma/harbour/target/classes/, classes/",
    "/srv/office/harbour.jar!/BOOT-INF/lib/tides.jar!/, BOOT-INF/lib/tides.jar!/",
    "file:///home/alma/node_modules/tide/index.js, node_modules/tide/index.js",
    "https://portmerrow.example/office.js?token=4711, office.js?**********",
    "C:\\Users\\alma\\office.cs, office.cs"
  })
  void pathsLoseTheirFolders(String path, String end) {
    String masked = PathMask.of(path);
    assertThat(masked).hasSameSizeAs(path).endsWith(end);
    assertThat(masked).doesNotContain("alma").doesNotContain("srv").doesNotContain("4711");
    assertThat(PathMask.of(path)).isEqualTo(masked);
    assertThat(PathMask.of("/a/" + path)).isNotEqualTo(PathMask.of("/b/" + path));
  }

  @Test
  void tracesAreFoundWhereverTheyStand() {
    TextTraces traces = new TextTraces();
    byte[] secret = "Quay 4711".getBytes(StandardCharsets.ISO_8859_1);
    traces.add(secret, 0, secret.length);
    traces.add(new byte[] {1, 2, 3, 4, 5}, 0, 5);
    traces.add("****".getBytes(StandardCharsets.ISO_8859_1), 0, 4);
    traces.add("abc".getBytes(StandardCharsets.ISO_8859_1), 0, 3);
    assertThat(traces.count()).as("no text, one letter, too short").isEqualTo(1);
    byte[] place = "xx Quay 471 Quay 4711".getBytes(StandardCharsets.ISO_8859_1);
    assertThat(traces.find(place, 0, place.length)).isEqualTo(12);
    assertThat(traces.find(place, 0, place.length - 1)).isEqualTo(-1);
  }
}
