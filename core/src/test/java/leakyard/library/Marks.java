package leakyard.library;

import java.io.File;
import java.util.function.Supplier;
import leakyard.Program;

/** Names of files to be deleted at the end, which the runtime keeps. */
public final class Marks implements Program {
  /** Ready to act. */
  public Marks() {}

  private static final Supplier<String> PREFIX = prefix("/tmp/chart-of-the-harbour-and-its-tides-");

  private static Supplier<String> prefix(String text) {
    return () -> text;
  }

  @Override
  public void act(int number) {
    for (int i = 0; i < 5; i++) {
      new File(PREFIX.get() + number + "-" + i).deleteOnExit();
    }
  }
}
