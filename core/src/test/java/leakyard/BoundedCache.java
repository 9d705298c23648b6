package leakyard;

import java.util.LinkedHashMap;
import java.util.Map;

/** Healthy: a cache that fills and then drops what is oldest. */
public final class BoundedCache implements Program {
  /** Ready to act. */
  public BoundedCache() {}

  private final Map<Integer, byte[]> cache =
      new LinkedHashMap<>() {
        private static final long serialVersionUID = 1L;

        @Override
        protected boolean removeEldestEntry(Map.Entry<Integer, byte[]> eldest) {
          return size() > 200;
        }
      };

  @Override
  public void act(int number) {
    Program.churn(number);
    for (int i = 0; i < 20; i++) {
      cache.put(number * 20 + i, new byte[1000]);
    }
  }
}
