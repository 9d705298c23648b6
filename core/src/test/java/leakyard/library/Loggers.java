package leakyard.library;

import ch.qos.logback.classic.LoggerContext;
import leakyard.Program;
import org.slf4j.LoggerFactory;

/** A logger for each call, all of which the logging library keeps. */
public final class Loggers implements Program {
  /** Ready to act. */
  public Loggers() {}

  @Override
  public void act(int number) {
    for (int i = 0; i < 4; i++) {
      LoggerFactory.getLogger("harbour.call-" + number + "-" + i).debug("begins");
    }
  }

  @Override
  public void release() throws Exception {
    java.lang.reflect.Field cache = LoggerContext.class.getDeclaredField("loggerCache");
    cache.setAccessible(true);
    ((java.util.Map<?, ?>) cache.get(LoggerFactory.getILoggerFactory())).clear();
    Object root = LoggerFactory.getLogger("ROOT");
    java.lang.reflect.Field children = root.getClass().getDeclaredField("childrenList");
    children.setAccessible(true);
    ((java.util.List<?>) children.get(root)).clear();
  }
}
