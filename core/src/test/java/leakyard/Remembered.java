package leakyard;

import java.util.ArrayList;
import java.util.List;
import java.util.function.Supplier;

/** A supplier that remembers what it once made: a list that only grows. */
public final class Remembered implements Program {
  /** Ready to act. */
  public Remembered() {}

  private static final Supplier<List<Sailor>> CREW = once(ArrayList::new);

  static final class Sailor {
    final long[] papers = new long[60];
  }

  private static <T> Supplier<T> once(Supplier<T> maker) {
    T made = maker.get();
    return () -> made;
  }

  @Override
  public void act(int number) {
    Program.churn(number);
    CREW.get().add(new Sailor());
  }
}
