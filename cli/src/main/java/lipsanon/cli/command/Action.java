package lipsanon.cli.command;

import java.io.IOException;
import lipsanon.capture.RuntimeInfo;

/** What a rehearsal does again and again. */
interface Action {
  /**
   * Does it once.
   *
   * @param round the round, 0 for the warm-up
   * @return what went wrong, or null
   */
  String perform(RuntimeInfo target, int round) throws IOException, InterruptedException;
}
