package leakyard.library;

import java.util.ArrayDeque;
import leakyard.Program;

/** The same number of things at all times, but ever new ones. */
public final class Turnover implements Program {
  /** Ready to act. */
  public Turnover() {}

  private static final ArrayDeque<long[]> CALLS = new ArrayDeque<>();

  @Override
  public void act(int number) {
    for (int i = 0; i < 30; i++) {
      CALLS.add(new long[50]);
    }
    while (CALLS.size() > 300) {
      CALLS.remove();
    }
  }
}
