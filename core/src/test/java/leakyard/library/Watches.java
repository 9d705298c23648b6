package leakyard.library;

import java.util.concurrent.CountDownLatch;
import leakyard.Program;

/** Threads that are started with each call and never end. */
public final class Watches implements Program {
  /** Ready to act. */
  public Watches() {}

  private static final CountDownLatch MORNING = new CountDownLatch(1);

  static final class Watch implements Runnable {
    private final byte[] log = new byte[2000];

    @Override
    public void run() {
      try {
        MORNING.await();
        log[0]++;
      } catch (InterruptedException e) {
        Thread.currentThread().interrupt();
      }
    }
  }

  @Override
  public void act(int number) {
    Thread thread = new Thread(new Watch(), "watch-" + number);
    thread.setDaemon(true);
    thread.start();
    while (thread.getState() != Thread.State.WAITING) {
      Thread.onSpinWait();
    }
  }

  @Override
  public void release() throws Exception {
    MORNING.countDown();
    for (Thread thread : Thread.getAllStackTraces().keySet()) {
      if (thread.getName().startsWith("watch-")) {
        thread.join();
      }
    }
  }
}
