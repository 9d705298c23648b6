package leakyard;

import java.util.HashMap;
import java.util.Map;
import java.util.Timer;
import java.util.TimerTask;

/** A timer of its own for each call, known by its name: its thread and the runtime keep it too. */
public final class Reminders implements Program {
  /** Ready to act. */
  public Reminders() {}

  private static final Map<String, Timer> TIMERS = new HashMap<>();

  static final class Reminder extends TimerTask {
    final long[] notes = new long[40];

    @Override
    public void run() {
      notes[0]++;
    }
  }

  @Override
  public void act(int number) {
    Program.churn(number);
    Timer timer = new Timer("tide-" + number, true);
    timer.schedule(new Reminder(), 10_000_000);
    TIMERS.put("tide " + number, timer);
  }
}
