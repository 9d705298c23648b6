package leakyard;

import java.util.concurrent.CountDownLatch;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Semaphore;

/** A pool of which each task takes a thread for good. */
public final class StuckInPool implements Program {
  /** Ready to act. */
  public StuckInPool() {}

  private final ExecutorService pool = Executors.newFixedThreadPool(300);
  private final Semaphore relief = new Semaphore(0);

  @Override
  public void act(int number) throws Exception {
    CountDownLatch begun = new CountDownLatch(1);
    pool.submit(() -> stand(begun));
    begun.await();
  }

  private void stand(CountDownLatch begun) {
    begun.countDown();
    relief.acquireUninterruptibly();
  }
}
