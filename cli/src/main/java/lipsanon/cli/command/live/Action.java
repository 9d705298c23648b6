package lipsanon.cli.command.live;

import java.io.IOException;
import lipsanon.capture.LiveRuntime;
import lipsanon.capture.RuntimeInfo;

/** What a rehearsal does again and again. */
public interface Action {
  /**
   * Does it once.
   *
   * @param live the connection to the target, or null where none is held
   * @param round the round, 0 for the warm-up
   * @return what went wrong, or null
   */
  String perform(RuntimeInfo target, LiveRuntime live, int round)
      throws IOException, InterruptedException;
}
