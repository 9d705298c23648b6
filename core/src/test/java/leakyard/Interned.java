package leakyard;

import java.util.HashSet;
import java.util.Set;

/** Interned strings that a set keeps. */
public final class Interned implements Program {
  /** Ready to act. */
  public Interned() {}

  private static final Set<String> NAMES = new HashSet<>();

  @Override
  public void act(int number) {
    Program.churn(number);
    for (int i = 0; i < 25; i++) {
      NAMES.add(("interned name " + number + "/" + i).intern());
    }
  }
}
