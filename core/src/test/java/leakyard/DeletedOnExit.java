package leakyard;

import java.io.File;

/** Files that are to go at the end of a program that has none. */
public final class DeletedOnExit implements Program {
  /** Ready to act. */
  public DeletedOnExit() {}

  @Override
  public void act(int number) {
    new File("/nowhere/leakyard/berth-" + number + ".tmp").deleteOnExit();
  }
}
