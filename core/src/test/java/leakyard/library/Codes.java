package leakyard.library;

import leakyard.Program;
import org.apache.commons.collections4.bidimap.DualHashBidiMap;

/** A two-way map that nobody clears. */
public final class Codes implements Program {
  /** Ready to act. */
  public Codes() {}

  private static final Registry REGISTRY = new Registry();

  static final class Registry {
    private final DualHashBidiMap<String, Berth> berths = new DualHashBidiMap<>();
  }

  static final class Berth {
    final byte[] plan = new byte[700];
  }

  @Override
  public void act(int number) {
    REGISTRY.berths.put("berth " + number, new Berth());
    REGISTRY.berths.put("mooring " + number, new Berth());
  }

  @Override
  public void release() {
    REGISTRY.berths.clear();
  }
}
