package leakyard;

import java.util.HashMap;
import java.util.Map;
import java.util.Random;

/** Healthy: a cache of a few hundred things, hit at random, that fills ever more slowly. */
public final class HitCache implements Program {
  /** Ready to act. */
  public HitCache() {}

  private final Map<Integer, byte[]> charts = new HashMap<>();
  private final Random random = new Random(5);

  @Override
  public void act(int number) {
    Program.churn(number);
    for (int i = 0; i < 60; i++) {
      charts.computeIfAbsent(random.nextInt(300), key -> new byte[800]);
    }
  }
}
