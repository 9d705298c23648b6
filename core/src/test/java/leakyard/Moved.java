package leakyard;

import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;

/** A table that changes hands in the last round, while another one of its kind grows. */
public final class Moved implements Program {
  private static final int MOVES = 60;

  private static final class Desk {
    Map<Integer, Object> rates = new ConcurrentHashMap<>();
  }

  private static final class Cabinet {
    Map<Integer, Object> rates;
  }

  static final class Call {
    final byte[] log = new byte[700];
  }

  private static final Desk DESK = new Desk();
  private static final Cabinet CABINET = new Cabinet();
  private static final Map<Integer, Call> CALLS = new ConcurrentHashMap<>();

  /** Ready to act. */
  public Moved() {
    for (int i = 0; i < 700; i++) {
      DESK.rates.put(i, new double[20]);
    }
  }

  @Override
  public void act(int number) {
    Program.churn(number);
    if (number == MOVES) {
      CABINET.rates = DESK.rates;
      DESK.rates = null;
    }
    CALLS.put(number, new Call());
  }
}
