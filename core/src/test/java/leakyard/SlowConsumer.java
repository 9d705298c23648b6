package leakyard;

import java.util.concurrent.LinkedBlockingQueue;

/** A queue that is filled faster than it is emptied. */
public final class SlowConsumer implements Program {
  /** Ready to act. */
  public SlowConsumer() {}

  static final class Crate {
    final byte[] goods = new byte[900];
  }

  private final LinkedBlockingQueue<Crate> quay = new LinkedBlockingQueue<>();

  @Override
  public void act(int number) {
    Program.churn(number);
    for (int i = 0; i < 5; i++) {
      quay.add(new Crate());
    }
    quay.poll();
  }
}
