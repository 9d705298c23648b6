package lipsanon.format.v8;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class WrittenPlacesTest {
  private static final String URL = "http://port-merrow:81/app.js";
  private static final WrittenPlaces PLACES =
      WrittenPlaces.of(
          "{\"12\":{\"url\":\""
              + URL
              + "\",\"base\":\"http://port-merrow:81/maps/app.js.map\",\"declared\":{\"r\":[0,20]},\"map\":"
              + new MapBuilder()
                  .add(0, 20, "../src/berths.ts", 5, 9, "remember")
                  .add(0, 40, "../src/berths.ts", 6, 2, null)
                  .json()
              + "},\"13\":{\"url\":\"x\"},\"nobody\":{\"map\":7}}");

  @ParameterizedTest
  @CsvSource({
    "er (http://port-merrow:81/app.js:1:45), er (http://port-merrow:81/src/berths.ts:7:3)",
    "r (http://port-merrow:81/app.js:1:45), remember (http://port-merrow:81/src/berths.ts:7:3)",
    "http://port-merrow:81/app.js:1:45, http://port-merrow:81/src/berths.ts:7:3",
    "new er (http://port-merrow:81/app.js:1:45), new er (http://port-merrow:81/src/berths.ts:7:3)",
    "er (http://port-merrow:81/app.js:1:5), er (http://port-merrow:81/app.js:1:5)",
    "er (http://port-merrow:81/other.js:1:45), er (http://port-merrow:81/other.js:1:45)",
    "Set.add (<anonymous>), Set.add (<anonymous>)",
    "'', ''"
  })
  void framesOfCallStacks(String frame, String written) {
    assertThat(PLACES.frame(frame)).isEqualTo(written);
  }

  @ParameterizedTest
  @CsvSource({
    "http://port-merrow:81/app.js, 0, 44, berths.ts:7",
    "http://port-merrow:81/app.js, 0, 3, app.js:1",
    "http://port-merrow:81/app.js, 9, 44, app.js:10",
    "http://port-merrow:81/page.html?x=1, 9, 44, page.html:10"
  })
  void placesInWords(String script, int line, int column, String text) {
    assertThat(PLACES.text(script, line, column)).isEqualTo(text);
  }

  @ParameterizedTest
  @ValueSource(strings = {"", "{", "[]", "{\"1\":{\"map\":{\"mappings\":\"AAAA\"", "nothing"})
  void whatIsNoMap(String json) {
    assertThat(WrittenPlaces.of(json).text(URL, 0, 44)).isEqualTo("app.js:1");
  }
}
