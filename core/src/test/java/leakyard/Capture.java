package leakyard;

import java.util.ArrayList;
import java.util.List;

/** A lambda that captures more than it needs, in a list of hooks. */
public final class Capture implements Program {
  /** Ready to act. */
  public Capture() {}

  private static final List<Runnable> HOOKS = new ArrayList<>();

  static final class Voyage {
    final long[] track = new long[400];
    int port;

    void register() {
      HOOKS.add(() -> port++);
    }
  }

  @Override
  public void act(int number) {
    Program.churn(number);
    new Voyage().register();
  }
}
