package leakyard;

import java.util.Collections;
import java.util.concurrent.Callable;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.atomic.AtomicInteger;

/** A pool whose threads each keep a buffer. */
public final class PooledBuffers implements Program {
  /** Ready to act. */
  public PooledBuffers() {}

  private static final int THREADS = 60;
  private static final ThreadLocal<byte[]> BUFFER = ThreadLocal.withInitial(() -> new byte[60_000]);
  private final AtomicInteger made = new AtomicInteger();

  private final ExecutorService pumps =
      Executors.newFixedThreadPool(
          THREADS,
          work -> {
            Thread thread = new Thread(work, "pump-" + made.incrementAndGet());
            thread.setDaemon(true);
            return thread;
          });

  @Override
  public void act(int number) throws Exception {
    CountDownLatch all = new CountDownLatch(THREADS);
    Callable<Void> pump =
        () -> {
          BUFFER.get()[0]++;
          // so that each thread has one
          all.countDown();
          all.await();
          return null;
        };
    // and none is at work any more when the action is over
    pumps.invokeAll(Collections.nCopies(THREADS, pump));
  }
}
