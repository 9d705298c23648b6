package leakyard;

import java.util.ArrayList;
import java.util.List;
import java.util.function.IntConsumer;

/** A lambda with a list of its own, which another class has among its callbacks. */
public final class Lent implements Program {
  static final class Toll {
    final long[] stamp = new long[60];
  }

  /** Ready to act. */
  public Lent() {
    List<Toll> tolls = new ArrayList<>();
    Quarter.CALLBACKS.add(number -> tolls.add(new Toll()));
  }

  @Override
  public void act(int number) {
    Program.churn(number);
    Quarter.CALLBACKS.forEach(callback -> callback.accept(number));
  }
}

/** Has the callbacks of others. */
final class Quarter {
  static final List<IntConsumer> CALLBACKS = new ArrayList<>();

  private Quarter() {}
}
