package lipsanon.format.v8;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.core.JsonParser;
import java.util.Random;
import java.util.TreeMap;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class SourceMapTest {
  private static final String BASE = "http://port-merrow/assets/app.js.map";

  private static SourceMap read(String json) throws Exception {
    try (JsonParser parser = V8Format.JSON.createParser(json)) {
      parser.nextToken();
      return SourceMap.read(parser, BASE);
    }
  }

  @Test
  void randomMapsAgreeWithTheDefinition() throws Exception {
    Random random = new Random(11);
    for (int round = 0; round < 300; round++) {
      MapBuilder map = new MapBuilder();
      TreeMap<Long, MapBuilder.Segment> byPlace = new TreeMap<>();
      int count = random.nextInt(40);
      for (int i = 0; i < count; i++) {
        int line = random.nextInt(5);
        int column = random.nextInt(200_000);
        if (!byPlace.containsKey((long) line << 32 | column)) {
          String source = random.nextInt(5) == 0 ? null : "/src/" + random.nextInt(4) + ".ts";
          String name = source == null || random.nextBoolean() ? null : "n" + random.nextInt(9);
          int from = random.nextInt(9000);
          map.add(line, column, source, from, random.nextInt(80), name);
          byPlace.put((long) line << 32 | column, map.segments.get(map.segments.size() - 1));
        }
      }
      SourceMap read = read(map.json());
      assertThat(read.size()).isEqualTo(byPlace.size());
      for (int i = 0; i < 60; i++) {
        long at = (long) random.nextInt(6) << 32 | random.nextInt(210_000);
        at = i % 3 == 0 && !byPlace.isEmpty() ? byPlace.floorKey(byPlace.lastKey()) : at;
        var floor = byPlace.floorEntry(at);
        boolean none =
            floor == null
                || floor.getKey() >>> 32 != at >>> 32
                || floor.getValue().source() == null;
        SourceMap.Original found = read.original((int) (at >>> 32), (int) at);
        if (none) {
          assertThat(found).isNull();
        } else {
          MapBuilder.Segment segment = floor.getValue();
          String name = floor.getKey() == at && segment.name() != null ? segment.name() : "";
          assertThat(found)
              .isEqualTo(
                  new SourceMap.Original(
                      segment.source(), segment.from(), segment.fromColumn(), name));
        }
      }
    }
  }

  @ParameterizedTest
  @CsvSource({
    // name(, name=(, nothing to be found
    "3, 21, er, Call",
    "3, 22, er, Call",
    "3, 40, er, er",
    "3, 21, '', ''",
    "3, 1, er, er",
    "2, 21, er, er"
  })
  void functionsGetTheirNamesBack(int line, int column, String name, String written)
      throws Exception {
    SourceMap map = read(new MapBuilder().add(3, 19, "/src/a.ts", 4, 6, "Call").json());
    assertThat(map.written(line, column, name)).isEqualTo(written);
  }

  @Test
  void partsOfAScriptHaveMapsOfTheirOwn() throws Exception {
    String a = new MapBuilder().add(0, 5, "/src/a.ts", 1, 0, null).json();
    String b =
        new MapBuilder()
            .add(0, 5, "/src/b.ts", 2, 0, "tide")
            .add(1, 5, "/src/c.ts", 3, 0, null)
            .json();
    SourceMap map =
        read(
            "{\"version\":3,\"sections\":[{\"offset\":{\"line\":0,\"column\":0},\"map\":"
                + a
                + "},{\"offset\":{\"line\":7,\"column\":100},\"map\":"
                + b
                + "},{\"offset\":3,\"map\":[1]}],\"x\":{\"y\":[]}}");
    assertThat(map.original(0, 5).source()).isEqualTo("/src/a.ts");
    assertThat(map.original(7, 104)).isNull();
    assertThat(map.original(7, 105)).isEqualTo(new SourceMap.Original("/src/b.ts", 2, 0, "tide"));
    assertThat(map.original(8, 5)).isEqualTo(new SourceMap.Original("/src/c.ts", 3, 0, ""));
  }

  /** What does not fit is left out, and what came before it stays. */
  @ParameterizedTest
  @ValueSource(
      strings = {
        "{\"version\":3,\"sources\":[\"/a\"],\"mappings\":\"AAAA,!!!\"}",
        "{\"version\":3,\"sources\":[\"/a\"],\"mappings\":\"AAAA,gggggggggggg\"}",
        "{\"version\":3,\"sources\":[\"/a\"],\"mappings\":\"AAAA;AACA,DAAA\"}",
        "{\"version\":3,\"sources\":[\"/a\",5,[1]],\"names\":7,\"mappings\":\"AAAA,KEAA,KAAAZ\"}",
        "{\"mappings\":\"AAAA,K\",\"sections\":4,\"sources\":[\"/a\"]}"
      })
  void whatDoesNotFitIsLeftOut(String json) throws Exception {
    SourceMap map = read(json);
    assertThat(map.original(0, 0)).isEqualTo(new SourceMap.Original("/a", 0, 0, ""));
    assertThat(map.original(0, 9))
        .satisfiesAnyOf(o -> assertThat(o).isNull(), o -> assertThat(o.source()).isEqualTo("/a"));
  }

  @ParameterizedTest
  @ValueSource(strings = {"{}", "{\"mappings\":{}}", "{\"mappings\":\";;;;\",\"sources\":\"x\"}"})
  void emptyMapsTellNothing(String json) throws Exception {
    assertThat(read(json).size()).isZero();
    assertThat(read(json).original(0, 0)).isNull();
  }

  @Test
  void sectionsWithinSectionsWithoutEnd() throws Exception {
    String map = "{\"mappings\":\"\"}";
    for (int i = 0; i < 2000; i++) {
      map = "{\"sections\":[{\"offset\":{\"line\":0,\"column\":0},\"map\":" + map + "}]}";
    }
    assertThat(read(map).size()).isZero();
  }
}
