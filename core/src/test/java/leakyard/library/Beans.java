package leakyard.library;

import leakyard.Program;
import org.springframework.cache.concurrent.ConcurrentMapCache;
import org.springframework.context.support.GenericApplicationContext;

/** A cache of a library among all the services that a framework has wired. */
public final class Beans implements Program {
  /** Ready to act. */
  public Beans() {}

  private static final Class<?>[] SERVICES = {
    Pilots.class, Tides.class, Tugs.class, Cranes.class, Lights.class, Prices.class
  };

  private static final GenericApplicationContext APPLICATION = new GenericApplicationContext();

  static {
    for (Class<?> service : SERVICES) {
      APPLICATION.registerBean(service);
    }
    APPLICATION.registerBean(ConcurrentMapCache.class, () -> new ConcurrentMapCache("fees"));
    APPLICATION.refresh();
  }

  static final class Pilots {}

  static final class Tides {}

  static final class Tugs {}

  static final class Cranes {}

  static final class Lights {}

  static final class Prices {}

  record Fee(int number, int[] parts) {}

  private static ConcurrentMapCache fees() {
    return APPLICATION.getBean(ConcurrentMapCache.class);
  }

  @Override
  public void act(int number) {
    fees().put("vessel " + number, new Fee(number, new int[60]));
  }

  @Override
  public void release() {
    fees().clear();
  }
}
