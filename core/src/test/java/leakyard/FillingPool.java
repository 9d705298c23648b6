package leakyard;

import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;

/** A pool that may have many threads, and starts one with each task until it has them all. */
public final class FillingPool implements Program {
  /** Ready to act. */
  public FillingPool() {}

  private final ExecutorService pool = Executors.newFixedThreadPool(300);

  @Override
  public void act(int number) throws Exception {
    pool.submit(() -> Program.churn(number)).get();
  }
}
