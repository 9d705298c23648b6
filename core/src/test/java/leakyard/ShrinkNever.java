package leakyard;

import java.util.ArrayDeque;

/** A pool that never shrinks, because what is taken is never given back. */
public final class ShrinkNever implements Program {
  /** Ready to act. */
  public ShrinkNever() {}

  static final class Launch {
    final byte[] fuel = new byte[3000];
    boolean inUse;
  }

  static final class LaunchPool {
    private final ArrayDeque<Launch> all = new ArrayDeque<>();

    Launch take() {
      for (Launch launch : all) {
        if (!launch.inUse) {
          launch.inUse = true;
          return launch;
        }
      }
      Launch launch = new Launch();
      launch.inUse = true;
      all.add(launch);
      return launch;
    }
  }

  private final LaunchPool launches = new LaunchPool();

  @Override
  public void act(int number) {
    Program.churn(number + launches.take().fuel.length);
  }
}
