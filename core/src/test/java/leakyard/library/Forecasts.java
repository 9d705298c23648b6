package leakyard.library;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import leakyard.Program;

/** A cache without any bound. */
public final class Forecasts implements Program {
  /** Ready to act. */
  public Forecasts() {}

  private static final Service SERVICE = new Service();

  static final class Service {
    private final Cache<String, Forecast> known = Caffeine.newBuilder().build();

    Forecast of(String day) {
      return known.get(day, Forecast::new);
    }
  }

  static final class Forecast {
    final String day;
    final double[] heights = new double[48];

    Forecast(String day) {
      this.day = day;
    }
  }

  @Override
  public void act(int number) {
    SERVICE.of("day " + number);
    SERVICE.of("night " + number);
  }

  @Override
  public void release() {
    SERVICE.known.invalidateAll();
  }
}
