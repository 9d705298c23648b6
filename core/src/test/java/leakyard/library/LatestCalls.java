package leakyard.library;

import java.util.LinkedHashMap;
import java.util.Map;
import leakyard.Program;

/** The last calls in an ordered map that drops its eldest. */
public final class LatestCalls implements Program {
  /** Ready to act. */
  public LatestCalls() {}

  private static final Map<Integer, byte[]> LATEST =
      new LinkedHashMap<>(16, 0.75f, true) {
        private static final long serialVersionUID = 1L;

        @Override
        protected boolean removeEldestEntry(Map.Entry<Integer, byte[]> eldest) {
          return size() > 40;
        }
      };

  @Override
  public void act(int number) {
    LATEST.put(2 * number, new byte[500]);
    LATEST.put(2 * number + 1, new byte[500]);
  }
}
