package lipsanon.scripts;

import java.util.Random;

/** Texts of parts of scripts, most of which are none. */
final class RandomScripts {
  private static final String[] PARTS =
      ("var |let |a|b1|,|=|=>|{|}|(|)|[|]|`|${|'|\"|/|*|//|/*|*/|\n|\\|;|.|...|class |function |:"
              + "|\u2028|0x1f|#| of |catch|if")
          .split("\\|");

  private RandomScripts() {}

  /** A text of fewer parts than {@code most}. */
  static String next(Random random, int most) {
    StringBuilder script = new StringBuilder();
    for (int i = random.nextInt(most); i > 0; i--) {
      script.append(PARTS[random.nextInt(PARTS.length)]);
    }
    return script.toString();
  }
}
