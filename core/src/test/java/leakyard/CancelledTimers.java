package leakyard;

import java.util.Timer;
import java.util.TimerTask;

/** Cancelled timer tasks stay in the queue until their time. */
public final class CancelledTimers implements Program {
  /** Ready to act. */
  public CancelledTimers() {
    // the timer drops cancelled tasks only from the head of its queue: keep a live one there
    TIMER.schedule(new Reminder(), 8_000_000L);
  }

  private static final Timer TIMER = new Timer("tide-timer", true);

  static final class Reminder extends TimerTask {
    final byte[] text = new byte[2500];

    @Override
    public void run() {
      text[0] = 1;
    }
  }

  @Override
  public void act(int number) {
    Program.churn(number);
    Reminder reminder = new Reminder();
    TIMER.schedule(reminder, 9_000_000L);
    reminder.cancel();
  }
}
