package leakyard;

import java.util.ArrayList;
import java.util.List;

/** Healthy: much is made, nothing stays. */
public final class Churn implements Program {
  /** Ready to act. */
  public Churn() {}

  private Object latest;

  @Override
  public void act(int number) {
    List<byte[]> work = new ArrayList<>();
    for (int i = 0; i < 50; i++) {
      work.add(new byte[500 + (number * 31 + i) % 200]);
    }
    latest = work;
    Program.churn(number + work.size() + latest.hashCode() % 2);
  }
}
