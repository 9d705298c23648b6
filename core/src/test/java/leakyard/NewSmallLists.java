package leakyard;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;

/** A table that grows by lists, of five each. */
public final class NewSmallLists implements Program {
  /** Ready to act. */
  public NewSmallLists() {}

  static final class Call {
    final byte[] text = new byte[600];
  }

  private final Map<String, List<Call>> byVessel = new ConcurrentHashMap<>();

  @Override
  public void act(int number) {
    for (int i = 0; i < 5; i++) {
      byVessel.computeIfAbsent("vessel " + number, key -> new ArrayList<>()).add(new Call());
    }
  }
}
