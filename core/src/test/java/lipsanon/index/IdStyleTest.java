package lipsanon.index;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Identifiers and places in words, as they are printed and typed. */
class IdStyleTest {
  @ParameterizedTest
  @ValueSource(longs = {0, 1, 0x7f00_1234L, 0xffff_ffff_ffffL, Long.MIN_VALUE, -2})
  void addressesComeBack(long id) {
    assertThat(IdStyle.ADDRESS.parse(IdStyle.ADDRESS.text(id))).isEqualTo(id);
    assertThat(IdStyle.matches(IdStyle.ADDRESS.text(id))).isTrue();
    assertThat(IdStyle.SERIAL.parse(IdStyle.ADDRESS.text(id))).isEqualTo(-1);
  }

  @ParameterizedTest
  @ValueSource(longs = {0, 1, 4711, 4_294_967_295L})
  void serialNumbersComeBack(long id) {
    assertThat(IdStyle.SERIAL.parse(IdStyle.SERIAL.text(id))).isEqualTo(id);
    assertThat(IdStyle.matches(IdStyle.SERIAL.text(id))).isTrue();
    assertThat(IdStyle.ADDRESS.parse(IdStyle.SERIAL.text(id))).isEqualTo(-1);
  }

  @ParameterizedTest
  @ValueSource(
      strings = {"", "0x", "@", "12", "0xg", "x10", "0x11112222333344445", "@12345678901", "Berth"})
  void whatIsNoIdentifier(String text) {
    assertThat(IdStyle.matches(text)).isFalse();
    assertThat(IdStyle.ADDRESS.parse(text)).isEqualTo(-1);
    assertThat(IdStyle.SERIAL.parse(text)).isEqualTo(-1);
  }

  @Test
  void eitherCaseIsUnderstood() {
    assertThat(IdStyle.ADDRESS.parse("0XAbC")).isEqualTo(0xabc);
  }

  @Test
  void placesInWords() {
    assertThat(via(Via.Kind.FIELD, "harbour.Quay", "berths", -1)).isEqualTo("harbour.Quay.berths");
    assertThat(via(Via.Kind.STATIC, "harbour.Quay", "ALL", -1))
        .isEqualTo("static harbour.Quay.ALL");
    assertThat(via(Via.Kind.ELEMENT, "", "", 7)).isEqualTo("[7]");
    assertThat(via(Via.Kind.LOCAL, "", "", -1)).isEqualTo("local variable");
    assertThat(via(Via.Kind.LOCAL, "harbour.Quay.moor(Quay.java:12)", "", -1))
        .isEqualTo("local variable in harbour.Quay.moor(Quay.java:12)");
    assertThat(via(Via.Kind.VARIABLE, "in the scope of onCall (board.js:41)", "pending", -1))
        .isEqualTo("variable `pending` in the scope of onCall (board.js:41)");
    assertThat(via(Via.Kind.VARIABLE, "", "pending", -1)).isEqualTo("variable `pending`");
    assertThat(via(Via.Kind.PROPERTY, "Board", "calls", -1)).isEqualTo("Board.calls");
    assertThat(via(Via.Kind.KEY, "Board", "b 1", -1)).isEqualTo("Board[\"b 1\"]");
    assertThat(via(Via.Kind.SERVICE, "", "event listeners", -1)).isEqualTo("event listeners");
    assertThat(via(Via.Kind.PART, "", "table", -1)).isEqualTo("its table");
    assertThat(via(Via.Kind.INTERNAL, "", "class", -1)).isEqualTo("its class");
  }

  private static String via(Via.Kind kind, String owner, String name, long index) {
    return new Via(kind, owner, name, index).text();
  }

  @Test
  void whatCanBeMerged() {
    assertThat(new Via(Via.Kind.ELEMENT, "", "", 3).group()).isEqualTo("[]");
    assertThat(new Via(Via.Kind.KEY, "Board", "x", -1).group()).isEqualTo("Board[…]");
    assertThat(new Via(Via.Kind.PART, "", "entry", 4).group()).isEqualTo("[]");
    assertThat(new Via(Via.Kind.PART, "", "table", -1).group()).isEqualTo("its table");
    assertThat(new Via(Via.Kind.FIELD, "A", "b", -1).group()).isEqualTo("A.b");
  }

  @Test
  void namesOfPropertiesGoIntoTheVariable() {
    Via variable = new Via(Via.Kind.VARIABLE, "in the global scope", "board", -1);
    assertThat(variable.with(".calls.open"))
        .isEqualTo("variable `board.calls.open` in the global scope");
    assertThat(new Via(Via.Kind.STATIC, "Quay", "ALL", -1).with(".x"))
        .isEqualTo("static Quay.ALL.x");
  }
}
