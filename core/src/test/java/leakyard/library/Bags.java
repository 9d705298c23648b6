package leakyard.library;

import java.util.Arrays;
import leakyard.Program;

/** A container of the program's own kind, used for unrelated things. */
public final class Bags implements Program {
  /** Ready to act. */
  public Bags() {}

  private static final Store STORE = new Store();

  static final class Bag<T> {
    private Object[] slots = new Object[8];
    private int size;

    void add(T thing) {
      if (size == slots.length) {
        slots = Arrays.copyOf(slots, 2 * size);
      }
      slots[size++] = thing;
    }

    void clear() {
      Arrays.fill(slots, null);
      size = 0;
    }
  }

  static final class Store {
    private final Bag<Barrel> barrels = new Bag<>();
    private final Bag<String> notes = new Bag<>();

    Store() {
      notes.add("open at six");
      notes.add("closed at ten");
    }
  }

  static final class Barrel {
    final byte[] wine = new byte[600];
  }

  @Override
  public void act(int number) {
    STORE.barrels.add(new Barrel());
  }

  @Override
  public void release() {
    STORE.barrels.clear();
  }
}
