package leakyard.library;

import io.netty.util.HashedWheelTimer;
import io.netty.util.Timeout;
import java.util.concurrent.TimeUnit;
import leakyard.Program;

/** Timeouts far away in a wheel of timers, one for each call, each with a way back to it. */
public final class Wheel implements Program {
  /** Ready to act. */
  public Wheel() {}

  private static final Guard GUARD = new Guard();

  static final class Guard {
    private HashedWheelTimer timer = new HashedWheelTimer(1, TimeUnit.SECONDS, 64);
  }

  static final class Call {
    final long[] positions = new long[90];
    Timeout reminder;

    void begin() {
      reminder = GUARD.timer.newTimeout(timeout -> positions[0]++, 10, TimeUnit.HOURS);
    }
  }

  @Override
  public void act(int number) throws Exception {
    new Call().begin();
    // what is handed over is put into the wheel at its next tick
    TimeUnit.MILLISECONDS.sleep(number % 5 == 4 ? 1100 : 0);
  }

  @Override
  public void release() {
    GUARD.timer.stop();
    GUARD.timer = null;
  }
}
