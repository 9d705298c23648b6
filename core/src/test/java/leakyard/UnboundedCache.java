package leakyard;

import java.util.concurrent.ConcurrentHashMap;

/** A cache without a bound. */
public final class UnboundedCache implements Program {
  /** Ready to act. */
  public UnboundedCache() {}

  private static final ConcurrentHashMap<String, Object> CACHE = new ConcurrentHashMap<>();

  @Override
  public void act(int number) {
    Program.churn(number);
    for (int i = 0; i < 20; i++) {
      CACHE.computeIfAbsent("query " + number + "/" + i, query -> query + " answered at length");
    }
  }
}
