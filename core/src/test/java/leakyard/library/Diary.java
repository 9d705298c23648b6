package leakyard.library;

import leakyard.Program;
import org.slf4j.MDC;

/** What a log's lines should say is put under a new name with each call, and never taken back. */
public final class Diary implements Program {
  /** Ready to act. */
  public Diary() {}

  @Override
  public void act(int number) {
    for (int i = 0; i < 5; i++) {
      MDC.put("call-" + number + "-" + i, "the pilot boards vessel " + number + " off buoy " + i);
    }
  }

  @Override
  public void release() {
    MDC.clear();
  }
}
