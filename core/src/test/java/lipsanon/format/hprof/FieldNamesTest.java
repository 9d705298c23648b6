package lipsanon.format.hprof;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class FieldNamesTest {
  @ParameterizedTest
  @CsvSource({
    "berths, berths",
    "port$merrow$Office$$berths, berths",
    "merrow$Office$Desk$$_tide, _tide",
    "port$merrow$office$Desk$Board$$x$1, x$1",
    "berths$delegate, berths",
    "_state$volatile, _state",
    // what Java's compiler and others make is told as it is
    "this$0, this$0",
    "val$call, val$call",
    "$delegate, $delegate",
    "$$delegate_0, $$delegate_0",
    "$VALUES, $VALUES",
    "arg$1, arg$1",
    "L$0, L$0",
    "x$$y, x$$y",
    "merrow$office$$y, merrow$office$$y"
  })
  void areToldAsTheyWereWritten(String made, String written) {
    assertThat(FieldNames.written(made)).isEqualTo(written);
  }
}
