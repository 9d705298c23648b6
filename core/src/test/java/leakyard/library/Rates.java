package leakyard.library;

import com.google.common.collect.HashBasedTable;
import com.google.common.collect.Table;
import leakyard.Program;

/** A table of three rows that only become longer: maps in a map. */
public final class Rates implements Program {
  /** Ready to act. */
  public Rates() {}

  private static final Tariff TARIFF = new Tariff();

  static final class Tariff {
    private final Table<String, Integer, Rate> byQuay = HashBasedTable.create();
  }

  record Rate(int number, int[] hours) {}

  @Override
  public void act(int number) {
    for (int quay = 0; quay < 3; quay++) {
      TARIFF.byQuay.put("quay " + quay, number, new Rate(number, new int[100]));
    }
  }

  @Override
  public void release() {
    TARIFF.byQuay.clear();
  }
}
