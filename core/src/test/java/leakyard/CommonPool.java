package leakyard;

import java.util.concurrent.CountDownLatch;
import java.util.concurrent.ForkJoinPool;

/** The pool that all share: every thread of it waits, and its work piles up. */
public final class CommonPool implements Program {
  private final CountDownLatch never = new CountDownLatch(1);

  static final class Order {
    final long[] cargo = new long[60];
  }

  /** Ready to act. */
  public CommonPool() throws InterruptedException {
    int threads = ForkJoinPool.getCommonPoolParallelism();
    CountDownLatch waiting = new CountDownLatch(threads);
    for (int i = 0; i < threads; i++) {
      ForkJoinPool.commonPool()
          .execute(
              () -> {
                waiting.countDown();
                waitFor(never);
              });
    }
    waiting.await();
  }

  private static void waitFor(CountDownLatch latch) {
    try {
      latch.await();
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }

  private void ship(Order order) {
    waitFor(order.cargo.length == 0 ? null : never);
  }

  @Override
  public void act(int number) {
    Program.churn(number);
    Order order = new Order();
    ForkJoinPool.commonPool().execute(() -> ship(order));
  }
}
