package lipsanon.change;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import org.junit.jupiter.api.Test;

/** When one much longer round is worth its time though nothing is found yet. */
class GrowthAnswerTest {
  private static GrowthAnswer answer(String why, Long... bytes) {
    return new GrowthAnswer(
        List.of(),
        5,
        List.of(5, 5, 5),
        "none",
        "",
        List.of(),
        List.of(),
        List.of(new GrowthAnswer.SetAside("Call", "Desk.calls", List.of(bytes), why)));
  }

  @Test
  void whatRoseByTheSameTwiceMayGoOn() {
    // a queue fills once all threads that take from it have something to do
    assertThat(answer(GrowthAnswer.TOO_SMALL, 24L, 936L, 3216L, 5496L).worthALongRound()).isTrue();
  }

  @Test
  void whatRoseOtherwiseIsLeftAtThat() {
    assertThat(answer(GrowthAnswer.TOO_SMALL, 24L, 936L, 3216L, 5490L).worthALongRound()).isFalse();
    assertThat(answer(GrowthAnswer.TOO_SMALL, 24L, 24L, 24L, 24L).worthALongRound()).isFalse();
    assertThat(answer(GrowthAnswer.TOO_SMALL, 24L, 48L, 72L).worthALongRound()).isFalse();
    assertThat(answer("goes up and down", 24L, 936L, 3216L, 5496L).worthALongRound()).isFalse();
  }
}
