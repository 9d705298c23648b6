package leakyard;

import java.util.concurrent.CountDownLatch;

/** A finalizer that waits for ever, and all others with it. */
public final class StuckFinalizer implements Program {
  /** Ready to act. */
  public StuckFinalizer() {}

  private static final CountDownLatch NEVER = new CountDownLatch(1);

  static final class Lease {
    final byte[] papers = new byte[700];

    @Override
    @SuppressWarnings({"deprecation", "removal"})
    protected void finalize() throws Throwable {
      NEVER.await();
    }
  }

  @Override
  public void act(int number) {
    Program.churn(number);
    new Lease();
  }
}
