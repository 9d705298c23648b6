package leakyard;

import java.util.TreeMap;
import java.util.TreeSet;

/** A sorted set of names, and a sorted table of what was promised, of which nothing is removed. */
public final class SortedNames implements Program {
  private static final TreeSet<String> NAMES = new TreeSet<>();
  private final TreeMap<Integer, Promise> promises = new TreeMap<>();

  static final class Promise {
    final long[] days = new long[9];
  }

  /** Ready to act. */
  public SortedNames() {}

  @Override
  public void act(int number) {
    Program.churn(number);
    NAMES.add("the vessel with the number " + number + ", her sisters and all who sail in them");
    if (number % 8 == 0) {
      promises.put(number, new Promise());
    }
  }
}
