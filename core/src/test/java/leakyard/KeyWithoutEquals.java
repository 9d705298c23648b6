package leakyard;

import java.util.HashMap;
import java.util.Map;

/** A map whose keys lack equals: the same key is put again and again. */
public final class KeyWithoutEquals implements Program {
  /** Ready to act. */
  public KeyWithoutEquals() {}

  static final class Berth {
    final int number;

    Berth(int number) {
      this.number = number;
    }
  }

  private final Map<Berth, String> occupied = new HashMap<>();

  @Override
  public void act(int number) {
    Program.churn(number);
    for (int i = 0; i < 30; i++) {
      occupied.put(new Berth(i), "vessel " + i);
    }
  }
}
