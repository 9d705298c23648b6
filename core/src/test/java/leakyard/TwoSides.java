package leakyard;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;

/** Growth that is held from two sides at once. */
public final class TwoSides implements Program {
  /** Ready to act. */
  public TwoSides() {}

  static final class Cargo {
    final String mark;
    final byte[] goods = new byte[1500];

    Cargo(String mark) {
      this.mark = mark;
    }
  }

  private static final List<Cargo> ARRIVALS = new ArrayList<>();
  private static final Map<Integer, Cargo> BY_NUMBER = new TreeMap<>();

  @Override
  public void act(int number) {
    Program.churn(number);
    Cargo cargo = new Cargo("mark " + number);
    ARRIVALS.add(cargo);
    BY_NUMBER.put(number, cargo);
  }
}
