package lipsanon.label;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Random;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Test;

/** Patterns against regular expressions of the same meaning. */
class WildcardTest {
  @Test
  void fitsWhatTheRegularExpressionFits() {
    Random random = new Random(20_260_101);
    for (int i = 0; i < 50_000; i++) {
      String pattern = text(random, "ab*?A", 6) + "*";
      String text = text(random, "abAB", 8);
      String regex = pattern.replace("*", ".*").replace("?", ".");
      boolean expected = Pattern.compile(regex, Pattern.CASE_INSENSITIVE).matcher(text).matches();
      assertThat(Wildcard.of(pattern).fits(text)).as("%s in %s", pattern, text).isEqualTo(expected);
    }
  }

  private static String text(Random random, String letters, int longest) {
    StringBuilder text = new StringBuilder();
    for (int i = random.nextInt(longest); i > 0; i--) {
      text.append(letters.charAt(random.nextInt(letters.length())));
    }
    return text.toString();
  }

  @Test
  void aTextWithoutSignsFitsAnywhere() {
    assertThat(Wildcard.of("TIDE").fits("the tideBoard")).isTrue();
    assertThat(Wildcard.of("tide?").fits("the tideBoard")).isFalse();
  }

  @Test
  void noPatternTakesLong() {
    // a regular expression would try for ever
    assertThat(Wildcard.of("*a".repeat(50) + "b").fits("a".repeat(20_000))).isFalse();
  }
}
