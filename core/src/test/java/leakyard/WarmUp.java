package leakyard;

import java.util.HashMap;
import java.util.Map;

/** Healthy: tables and classes are loaded by the first actions, and then no more. */
public final class WarmUp implements Program {
  /** Ready to act. */
  public WarmUp() {}

  private final Map<String, Object> tables = new HashMap<>();

  @Override
  public void act(int number) {
    Program.churn(number);
    if (number < 18) {
      for (int i = 0; i < 40; i++) {
        tables.put("table " + number + "/" + i, String.format("%08d", number * i));
      }
    }
  }
}
