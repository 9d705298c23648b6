package leakyard;

import java.util.ArrayList;
import java.util.List;
import java.util.logging.Logger;

/** Library objects with more behind them than a wrapper has. */
public final class KeptLoggers implements Program {
  /** Ready to act. */
  public KeptLoggers() {}

  private static final List<Logger> LOGGERS = new ArrayList<>();

  @Override
  public void act(int number) {
    LOGGERS.add(Logger.getAnonymousLogger());
  }
}
