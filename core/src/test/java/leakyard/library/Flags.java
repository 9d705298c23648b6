package leakyard.library;

import com.google.common.collect.Interner;
import com.google.common.collect.Interners;
import leakyard.Program;

/** Texts that are interned for good, in a table that has two sorts of entries. */
public final class Flags implements Program {
  /** Ready to act. */
  public Flags() {}

  private static final Locker LOCKER = new Locker();

  static final class Locker {
    private Interner<Flag> known = Interners.newStrongInterner();
  }

  /** Nine share a place of the table. */
  record Flag(int number, String colours) {
    @Override
    public int hashCode() {
      return number / 9;
    }
  }

  @Override
  public void act(int number) {
    for (int ship = 0; ship < 3; ship++) {
      LOCKER.known.intern(new Flag(3 * number + ship, "red, white and " + number));
    }
  }

  @Override
  public void release() {
    LOCKER.known = Interners.newStrongInterner();
  }
}
