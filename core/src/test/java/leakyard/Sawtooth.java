package leakyard;

import java.util.ArrayList;
import java.util.List;

/** Healthy: a batch that fills and is sent off. */
public final class Sawtooth implements Program {
  /** Ready to act. */
  public Sawtooth() {}

  private final List<byte[]> batch = new ArrayList<>();

  @Override
  public void act(int number) {
    Program.churn(number);
    batch.add(new byte[4000]);
    if (batch.size() >= 10) {
      batch.clear();
    }
  }
}
