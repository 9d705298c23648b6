package leakyard.library;

import java.util.concurrent.CompletableFuture;
import leakyard.Program;

/** Steps that wait for something that never happens. */
public final class Gate implements Program {
  /** Ready to act. */
  public Gate() {}

  private static final Lock LOCK = new Lock();

  static final class Lock {
    private CompletableFuture<Integer> opened = new CompletableFuture<>();
  }

  @Override
  public void act(int number) {
    int[] vessel = new int[250];
    LOCK.opened.thenApply(water -> water + vessel[0]).thenAccept(water -> vessel[1] = water);
  }

  @Override
  public void release() {
    LOCK.opened.cancel(false);
    LOCK.opened = new CompletableFuture<>();
  }
}
