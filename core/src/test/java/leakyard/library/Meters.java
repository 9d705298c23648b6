package leakyard.library;

import io.micrometer.core.instrument.simple.SimpleMeterRegistry;
import leakyard.Program;

/** A meter for each vessel: tags without bound. */
public final class Meters implements Program {
  /** Ready to act. */
  public Meters() {}

  private static final Monitor MONITOR = new Monitor();

  static final class Monitor {
    private final SimpleMeterRegistry meters = new SimpleMeterRegistry();
  }

  @Override
  public void act(int number) {
    for (int i = 0; i < 3; i++) {
      MONITOR.meters.counter("calls", "vessel", "vessel " + number + "-" + i).increment();
    }
  }

  @Override
  public void release() {
    MONITOR.meters.clear();
  }
}
