package leakyard;

import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;

/** A table whose values are wrapped: some entries share their place in it. */
public final class WrappedValues implements Program {
  /** Ready to act. */
  public WrappedValues() {}

  static final class Tide {
    final byte[] curve = new byte[500];
  }

  private static final ConcurrentHashMap<String, Optional<Tide>> TIDES = new ConcurrentHashMap<>();

  @Override
  public void act(int number) {
    Program.churn(number);
    TIDES.put("tide " + number, Optional.of(new Tide()));
  }
}
