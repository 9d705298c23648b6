package leakyard;

import java.util.AbstractMap.SimpleEntry;
import java.util.ArrayList;
import java.util.List;

/** Each letter is filed twice, with a large cover of its own each time. */
public final class Carbons implements Program {
  private static final List<Object> FILED = new ArrayList<>();

  /** Ready to act. */
  public Carbons() {}

  private static final class Letter {
    final int number;

    Letter(int number) {
      this.number = number;
    }
  }

  @Override
  public void act(int number) {
    Letter letter = new Letter(number);
    FILED.add(new SimpleEntry<>(new byte[100], letter));
    FILED.add(new SimpleEntry<>(new byte[100], letter));
  }
}
