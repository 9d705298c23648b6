package lipsanon.label;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class ElementNamesTest {
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "<aside> | class=\"notice\"             | <aside class=\"notice\">",
        "<aside> | class=\"notice\", detached   | <aside class=\"notice\"> detached",
        "<img>   | alt=\"a > b, quay\"          | <img alt=\"a > b, quay\">",
      })
  void attributesStandInTheTag(String type, String label, String written) {
    assertThat(ElementNames.written(type, label)).isEqualTo(written);
    assertThat(ElementNames.apart(written)).isEqualTo(new ElementNames.Parts(type, label));
  }

  @Test
  void aLabelThatIsNoAttributeStandsBehind() {
    assertThat(ElementNames.written("<aside>", "detached")).isEqualTo("<aside> detached");
    assertThat(ElementNames.written("v8:closure", "ring")).isEqualTo("v8:closure ring");
  }

  @ParameterizedTest
  @ValueSource(strings = {"<aside>", "<aside> detached", "v8:closure ring", "List<Berth> of", ""})
  void whatHasNoAttributesIsLeftWhole(String name) {
    assertThat(ElementNames.apart(name)).isNull();
  }
}
