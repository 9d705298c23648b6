package lipsanon.snapshot;

import static org.assertj.core.api.Assertions.assertThat;

import java.lang.reflect.Method;
import java.lang.reflect.Modifier;
import lipsanon.index.ObjectReader;
import org.junit.jupiter.api.Test;

/** What a reader learns to tell is told, or hidden, by the one that hides contents too. */
class HidingReaderTest {
  @Test
  void everythingThatAReaderTellsPassesThroughIt() {
    for (Method method : ObjectReader.class.getMethods()) {
      if (!Modifier.isStatic(method.getModifiers())) {
        assertThat(HidingReader.class)
            .as("a default would tell what the reader itself does not say, or in full")
            .hasDeclaredMethods(method.getName());
      }
    }
  }
}
