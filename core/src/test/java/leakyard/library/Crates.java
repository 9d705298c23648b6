package leakyard.library;

import java.util.Map;
import leakyard.Program;
import org.apache.commons.collections4.map.HashedMap;

/** A library's table, whose entries hang on each other where they share a place. */
public final class Crates implements Program {
  /** Ready to act. */
  public Crates() {}

  private static final Yard YARD = new Yard();

  static final class Yard {
    private final Map<String, Crate> byName = new HashedMap<>();
  }

  record Crate(int number, int[] weights) {}

  @Override
  public void act(int number) {
    YARD.byName.put("crate " + number, new Crate(number, new int[100]));
  }

  @Override
  public void release() {
    YARD.byName.clear();
  }
}
