package leakyard;

import java.util.List;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;

/** Tasks for tomorrow, in the queues of two schedulers that one list has. */
public final class TwoBells implements Program {
  private static final List<ScheduledExecutorService> BELLS = List.of(bell(), bell());

  private static ScheduledExecutorService bell() {
    return Executors.newSingleThreadScheduledExecutor(
        task -> {
          Thread thread = new Thread(task, "bell");
          thread.setDaemon(true);
          return thread;
        });
  }

  record Ring(int number, int[] strokes) implements Runnable {
    @Override
    public void run() {}
  }

  /** Ready to act. */
  public TwoBells() {}

  @Override
  public void act(int number) {
    BELLS.get(number % 2).schedule(new Ring(number, new int[100]), 1, TimeUnit.DAYS);
  }
}
