package leakyard;

import java.util.LinkedHashSet;
import java.util.Set;

/** A listener that is never removed. */
public final class Listener implements Program {
  /** Ready to act. */
  public Listener() {}

  private static final Beacon BEACON = new Beacon();

  static final class Beacon {
    private final Set<Runnable> watchers = new LinkedHashSet<>();

    void watch(Runnable watcher) {
      watchers.add(watcher);
    }
  }

  static final class Watch implements Runnable {
    final int[] log = new int[600];

    @Override
    public void run() {
      log[0]++;
    }
  }

  @Override
  public void act(int number) {
    Program.churn(number);
    BEACON.watch(new Watch());
    BEACON.watch(new Watch());
  }
}
