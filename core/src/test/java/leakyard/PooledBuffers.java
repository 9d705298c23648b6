package leakyard;

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
    for (int i = 0; i < THREADS; i++) {
      pumps.submit(
          () -> {
            BUFFER.get()[0]++;
            all.countDown();
            all.await();
            return null;
          });
    }
    all.await();
  }
}
