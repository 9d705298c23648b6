package leakyard.library;

import java.util.ArrayList;
import java.util.List;
import leakyard.Program;

/** A pool whose size goes up and down. */
public final class Swing implements Program {
  /** Ready to act. */
  public Swing() {}

  private static final List<byte[]> BOATS = new ArrayList<>();

  @Override
  public void act(int number) {
    int wanted = 40 + (int) (30 * Math.sin(number * 0.9));
    while (BOATS.size() < wanted) {
      BOATS.add(new byte[800]);
    }
    while (BOATS.size() > wanted) {
      BOATS.remove(BOATS.size() - 1);
    }
  }
}
