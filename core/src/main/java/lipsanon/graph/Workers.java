package lipsanon.graph;

import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.FutureTask;

/** Runs a few long tasks side by side. The first failure wins and keeps its cause. */
public final class Workers {
  private Workers() {}

  /** How many threads are worth using here: at most four, at least one. */
  public static int threads() {
    return Math.max(1, Math.min(4, Runtime.getRuntime().availableProcessors()));
  }

  /**
   * Starts a task on a thread of its own. Its result or failure comes from {@link Task#join}.
   *
   * @param name the thread's name
   */
  public static <T> Task<T> start(String name, Callable<T> work) {
    FutureTask<T> future = new FutureTask<>(work);
    // path compression and the like never recurse, so the usual stack will do
    Thread thread = new Thread(future, name);
    thread.setDaemon(true);
    thread.start();
    return new Task<>(future, false);
  }

  /** A task that the first who joins it runs. */
  public static <T> Task<T> later(Callable<T> work) {
    return new Task<>(new FutureTask<>(work), true);
  }

  /** Runs all, the first in the calling thread, and returns when all have ended. */
  public static void all(List<Callable<Void>> works) throws Exception {
    List<Task<Void>> others = new ArrayList<>();
    for (int i = 1; i < works.size(); i++) {
      others.add(start("lipsanon-worker-" + i, works.get(i)));
    }
    Exception failure = null;
    try {
      works.get(0).call();
    } catch (Exception e) {
      failure = e;
    }
    for (Task<Void> other : others) {
      try {
        other.join();
      } catch (Exception e) {
        failure = failure == null ? e : failure;
      }
    }
    if (failure != null) {
      throw failure;
    }
  }

  /** A task that runs. */
  public static final class Task<T> {
    private final FutureTask<T> future;
    private final boolean later;

    private Task(FutureTask<T> future, boolean later) {
      this.future = future;
      this.later = later;
    }

    /** Waits for the end; throws what the task threw. */
    public T join() throws Exception {
      if (later) {
        // nothing happens if another thread has begun it
        future.run();
      }
      try {
        return future.get();
      } catch (ExecutionException e) {
        if (e.getCause() instanceof Exception cause) {
          throw cause;
        }
        if (e.getCause() instanceof Error error) {
          throw error;
        }
        throw e;
      }
    }
  }
}
