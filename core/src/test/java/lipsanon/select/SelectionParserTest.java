package lipsanon.select;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.catchThrowableOfType;

import java.util.List;
import java.util.Random;
import lipsanon.select.Selection.Comparison;
import lipsanon.select.Selection.Figure;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** The language of selections, without a snapshot. */
class SelectionParserTest {
  private static Selection parse(String text) throws Exception {
    return SelectionParser.parse(text);
  }

  @Test
  void namesAreTypes() throws Exception {
    assertThat(parse("portmerrow.VesselCall"))
        .isEqualTo(new Selection.OfType("portmerrow.VesselCall", 0));
    assertThat(parse("v8:closure ring")).isEqualTo(new Selection.OfType("v8:closure ring", 0));
    assertThat(parse("Object {id, due}")).isEqualTo(new Selection.OfType("Object {id, due}", 0));
    assertThat(parse("<section>")).isEqualTo(new Selection.OfType("<section>", 0));
    assertThat(parse("<aside class=\"notice\" id=\"a > b\">"))
        .isEqualTo(new Selection.OfType("<aside class=\"notice\" id=\"a > b\">", 0));
    assertThat(parse("\"own\"")).isEqualTo(new Selection.OfType("own", 0));
    assertThat(parse("java.lang.Object[]"))
        .isEqualTo(new Selection.OfType("java.lang.Object[]", 0));
    assertThat(parse("0x7f00a8")).isEqualTo(new Selection.Single("0x7f00a8", 0));
    assertThat(parse("@41")).isEqualTo(new Selection.Single("@41", 0));
    assertThat(parse("$big")).isEqualTo(new Selection.Named("big", 0));
  }

  @Test
  void andBindsMoreThanOr() throws Exception {
    Selection.Or or = (Selection.Or) parse("own and soft or not (strong or root thread)");
    assertThat(or.parts().get(0))
        .isEqualTo(
            new Selection.And(List.of(new Selection.Own(), new Selection.OfStrength("soft"))));
    assertThat(or.parts().get(1))
        .isEqualTo(
            new Selection.Not(
                new Selection.Or(
                    List.of(
                        new Selection.OfStrength("strong"), new Selection.Rooted("thread", 31)))));
  }

  @ParameterizedTest
  @CsvSource({"300,300", "10kB,10000", "1.5MB,1500000", "2g,2000000000", "'1_000',1000"})
  void sizesHaveUnits(String text, long bytes) throws Exception {
    assertThat(parse("retained >= " + text))
        .isEqualTo(new Selection.Measured(Figure.RETAINED, Comparison.AT_LEAST, bytes));
  }

  @Test
  void everyPredicate() throws Exception {
    assertThat(parse("depth!=3"))
        .isEqualTo(new Selection.Measured(Figure.DEPTH, Comparison.UNEQUAL, 3));
    assertThat(parse("length < 4"))
        .isEqualTo(new Selection.Measured(Figure.LENGTH, Comparison.LESS, 4));
    assertThat(parse("text ~ \"Al?a*\""))
        .isEqualTo(new Selection.WithText(Comparison.LIKE, "Al?a*", -1));
    assertThat(parse("text contains 'tide board'"))
        .isEqualTo(new Selection.WithText(Comparison.LIKE, "*tide board*", -1));
    assertThat(parse("text length > 100"))
        .isEqualTo(new Selection.WithText(Comparison.MORE, "", 100));
    assertThat(parse("call.vessel.name = \"Alma\""))
        .isEqualTo(
            new Selection.WithField(
                List.of("call", "vessel", "name"), Comparison.EQUAL, "Alma", 0));
    assertThat(parse("kept by (own)")).isEqualTo(new Selection.KeptBy(new Selection.Own()));
    assertThat(parse("freed with own")).isEqualTo(new Selection.FreedWith(new Selection.Own()));
    assertThat(parse("refers to own through calls"))
        .isEqualTo(new Selection.RefersTo(new Selection.Own(), "calls"));
    assertThat(parse("referred to by own through \"[]\""))
        .isEqualTo(new Selection.ReferredToBy(new Selection.Own(), "[]"));
    assertThat(parse("new since \"a b.heapsnapshot\""))
        .isEqualTo(new Selection.NewSince("a b.heapsnapshot", 10));
    assertThat(parse("allocated in subscribe"))
        .isEqualTo(new Selection.AllocatedIn("subscribe", 13));
    assertThat(parse("allocated from 0.5 to 2"))
        .isEqualTo(new Selection.AllocatedDuring(500, 2000, 0));
    assertThat(parse("kind Berth")).isEqualTo(new Selection.OfKind("Berth", 5));
    assertThat(parse("loader app")).isEqualTo(new Selection.LoadedBy("app", 7));
    assertThat(parse("all")).isEqualTo(new Selection.All());
  }

  @ParameterizedTest
  @CsvSource({
    "'',0",
    "'own and',7",
    "'(own',0",
    "'own )',4",
    "'retained > 1xB',11",
    "'retained > ',11",
    "'retained ~ 3',0",
    "'kept VesselCall',5",
    "'\"open',0",
    "'a..b = 1',0",
    "'= 4',0",
    "'text = )',7",
  })
  void errorsPointAtThePlace(String text, int at) {
    SelectionException e =
        catchThrowableOfType(SelectionException.class, () -> SelectionParser.parse(text));
    assertThat(e).as(text).isNotNull();
    assertThat(e.at()).as(text + ": " + e.getMessage()).isEqualTo(at);
    assertThat(e.missing()).isFalse();
  }

  @Test
  void deepNestingIsRefusedAndNoFault() {
    assertThatThrownBy(() -> SelectionParser.parse("(".repeat(100_000) + "own"))
        .isInstanceOf(SelectionException.class)
        .hasMessageContaining("nested");
    assertThatThrownBy(() -> SelectionParser.parse("not ".repeat(100_000) + "own"))
        .isInstanceOf(SelectionException.class);
  }

  @ParameterizedTest
  @ValueSource(strings = {"own", "a b", "x\"y", "java.lang.Object[]", "Text", "a\\b", "[]", "x-1"})
  void quotedNamesAreReadBack(String name) throws Exception {
    assertThat(parse("type " + SelectionParser.quoted(name)))
        .isEqualTo(new Selection.OfType(name, 5));
  }

  @Test
  void anyTextIsReadOrRefused() {
    Random random = new Random(20_260_101);
    String[] pieces = {
      "own", "and", "or", "not", "(", ")", "kept", "by", "=", ">", "\"", "'", " ", " ", "text",
      "1kB", "a.b", "$x", "<", "~", "refers", "to", "through", ",", "0x1", "{", "}", "length"
    };
    for (int i = 0; i < 20_000; i++) {
      StringBuilder text = new StringBuilder();
      for (int k = random.nextInt(12); k >= 0; k--) {
        text.append(pieces[random.nextInt(pieces.length)]).append(random.nextBoolean() ? " " : "");
      }
      try {
        assertThat(SelectionParser.parse(text.toString())).isNotNull();
      } catch (SelectionException e) {
        assertThat(e.at()).as(text.toString()).isBetween(0, text.length());
        assertThat(e.getMessage()).isNotBlank();
      }
    }
  }
}
