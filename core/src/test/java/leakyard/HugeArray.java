package leakyard;

import java.util.Arrays;

/** One array that grows and grows. */
public final class HugeArray implements Program {
  /** Ready to act. */
  public HugeArray() {}

  private static byte[] ledger = new byte[1000];

  @Override
  public void act(int number) {
    Program.churn(number);
    ledger = Arrays.copyOf(ledger, ledger.length + 5000);
  }
}
