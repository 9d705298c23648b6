package leakyard;

import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;

/** Code loaded anew with each call leaves a value in a thread local of its own. */
public final class LocalOfCopies implements Program {
  /** Ready to act. */
  public LocalOfCopies() {}

  private final ExecutorService pool = Executors.newFixedThreadPool(3);

  /** What is loaded anew. */
  public static final class Tide implements Runnable {
    private static final ThreadLocal<Object> LEVELS = new ThreadLocal<>();

    private final int[] levels = new int[100];

    /** Ready. */
    public Tide() {}

    @Override
    public void run() {
      LEVELS.set(this);
    }
  }

  @Override
  public void act(int number) throws Exception {
    Program.churn(number);
    Class<?> copy = Copies.of(Tide.class);
    pool.submit((Runnable) copy.getDeclaredConstructor().newInstance()).get();
  }
}
