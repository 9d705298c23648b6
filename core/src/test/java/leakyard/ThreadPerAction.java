package leakyard;

import java.util.concurrent.Semaphore;

/** Each action starts a thread that never ends. */
public final class ThreadPerAction implements Program {
  /** Ready to act. */
  public ThreadPerAction() {}

  private static final class Watch implements Runnable {
    private final byte[] view = new byte[40_000];
    private final Semaphore relief;

    Watch(Semaphore relief) {
      this.relief = relief;
    }

    @Override
    public void run() {
      relief.acquireUninterruptibly();
    }
  }

  private final Semaphore relief = new Semaphore(0);

  @Override
  public void act(int number) {
    Thread thread = new Thread(new Watch(relief), "watch-" + number);
    thread.setDaemon(true);
    thread.start();
  }
}
