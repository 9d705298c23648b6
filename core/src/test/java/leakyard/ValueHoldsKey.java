package leakyard;

import java.util.Map;
import java.util.WeakHashMap;

/** A weak map whose values refer to their keys. */
public final class ValueHoldsKey implements Program {
  /** Ready to act. */
  public ValueHoldsKey() {}

  static final class Vessel {
    final String name;

    Vessel(String name) {
      this.name = name;
    }
  }

  record Papers(Vessel of, byte[] scan) {}

  private final Map<Vessel, Papers> papers = new WeakHashMap<>();

  @Override
  public void act(int number) {
    Program.churn(number);
    Vessel vessel = new Vessel("vessel " + number);
    papers.put(vessel, new Papers(vessel, new byte[1800]));
  }
}
