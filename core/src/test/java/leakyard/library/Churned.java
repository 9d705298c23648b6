package leakyard.library;

import com.google.common.collect.HashBasedTable;
import com.google.common.collect.Table;
import leakyard.Program;

/** Much work with a library that leaves nothing behind. */
public final class Churned implements Program {
  /** Ready to act. */
  public Churned() {}

  private int last;

  @Override
  public void act(int number) {
    Table<Integer, Integer, String> table = HashBasedTable.create();
    for (int i = 0; i < 200; i++) {
      table.put(i % 10, i, "cell " + i * number);
    }
    last = table.size();
    Program.churn(last);
  }
}
