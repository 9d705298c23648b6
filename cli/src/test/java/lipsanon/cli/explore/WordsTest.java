package lipsanon.cli.explore;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import org.junit.jupiter.api.Test;

/** How a line of the prompt is cut into words. */
class WordsTest {
  @Test
  void spacesPart() {
    assertThat(Words.of("  types   --limit 3 ")).containsExactly("types", "--limit", "3");
    assertThat(Words.of("   ")).isEmpty();
  }

  @Test
  void quotesOfSelectionsStay() {
    assertThat(Words.of("sift text = 'tide board' and own"))
        .containsExactly("sift", "text", "=", "'tide board'", "and", "own");
    assertThat(Words.of("refs type \"a b\"")).containsExactly("refs", "type", "\"a b\"");
  }

  @Test
  void suggestedCommandsAreTakenAsAShellTakesThem() {
    assertThat(Words.of("sift 'own and retained > 1kB' --page 2"))
        .containsExactly("sift", "own and retained > 1kB", "--page", "2");
    assertThat(Words.of("sift 'text = '\\''Alma'\\''' --limit 1"))
        .isEqualTo(List.of("sift", "text = 'Alma'", "--limit", "1"));
  }

  @Test
  void anOpenQuoteReachesToTheEnd() {
    assertThat(Words.of("sift text = 'tide board")).endsWith("'tide board");
    assertThat(Words.of("sift 'own and")).containsExactly("sift", "own and");
  }
}
