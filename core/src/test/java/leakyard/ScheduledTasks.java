package leakyard;

import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;

/** Tasks for another day: each refers to the executor that holds them all. */
public final class ScheduledTasks implements Program {
  /** Ready to act. */
  public ScheduledTasks() {
    OTHER.submit(() -> Program.churn(1));
  }

  private static final ScheduledExecutorService OTHER = Executors.newScheduledThreadPool(1);
  private static final ScheduledExecutorService REMINDERS = Executors.newScheduledThreadPool(1);

  record Reminder(byte[] text) implements Runnable {
    @Override
    public void run() {
      text[0] = 1;
    }
  }

  @Override
  public void act(int number) {
    Program.churn(number);
    REMINDERS.schedule(new Reminder(new byte[600]), 9, TimeUnit.DAYS);
  }
}
