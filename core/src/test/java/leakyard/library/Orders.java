package leakyard.library;

import leakyard.Program;
import org.jctools.queues.MpscUnboundedArrayQueue;

/** A queue without bound that nobody reads. */
public final class Orders implements Program {
  /** Ready to act. */
  public Orders() {}

  private static final Counter COUNTER = new Counter();

  static final class Counter {
    private final MpscUnboundedArrayQueue<Runnable> orders = new MpscUnboundedArrayQueue<>(16);
  }

  @Override
  public void act(int number) {
    for (int i = 0; i < 4; i++) {
      byte[] cargo = new byte[300 + i];
      COUNTER.orders.add(() -> cargo[0]++);
    }
  }

  @Override
  public void release() {
    COUNTER.orders.clear();
  }
}
