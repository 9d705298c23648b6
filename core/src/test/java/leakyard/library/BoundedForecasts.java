package leakyard.library;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import leakyard.Program;

/** A cache with a bound that is reached late. */
public final class BoundedForecasts implements Program {
  /** Ready to act. */
  public BoundedForecasts() {}

  private static final Cache<Integer, double[]> KNOWN =
      Caffeine.newBuilder().maximumSize(60).executor(Runnable::run).build();

  @Override
  public void act(int number) {
    for (int i = 0; i < 2; i++) {
      KNOWN.put(2 * number + i, new double[40]);
    }
    KNOWN.cleanUp();
  }
}
