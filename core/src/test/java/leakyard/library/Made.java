package leakyard.library;

import java.util.ArrayList;
import java.util.List;
import leakyard.Program;
import net.bytebuddy.ByteBuddy;

/** A class made anew with each call, in a loader of its own. */
public final class Made implements Program {
  /** Ready to act. */
  public Made() {}

  private static final Foundry FOUNDRY = new Foundry();

  static final class Foundry {
    private final List<Class<?>> moulds = new ArrayList<>();
  }

  @Override
  public void act(int number) {
    FOUNDRY.moulds.add(
        new ByteBuddy()
            .subclass(Object.class)
            .name("leakyard.library.Mould" + number)
            .make()
            .load(Made.class.getClassLoader())
            .getLoaded());
  }

  @Override
  public void release() {
    FOUNDRY.moulds.clear();
  }
}
