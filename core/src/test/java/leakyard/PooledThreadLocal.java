package leakyard;

import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;

/** A thread local of pooled threads that is never cleared. */
public final class PooledThreadLocal implements Program {
  /** Ready to act. */
  public PooledThreadLocal() {}

  static final ThreadLocal<List<byte[]>> NOTES = ThreadLocal.withInitial(ArrayList::new);

  private final ExecutorService pool = Executors.newFixedThreadPool(2);

  @Override
  public void act(int number) throws Exception {
    Program.churn(number);
    pool.submit(() -> NOTES.get().add(new byte[3000])).get();
  }
}
