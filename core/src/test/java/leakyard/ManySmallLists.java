package leakyard;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;

/** A table of many lists, none of which is large. */
public final class ManySmallLists implements Program {
  /** Ready to act. */
  public ManySmallLists() {}

  enum Office {
    MAIN;

    final Map<String, List<Entry>> log = new ConcurrentHashMap<>();
  }

  static final class Entry {
    final byte[] text = new byte[600];
  }

  @Override
  public void act(int number) {
    Program.churn(number);
    Office.MAIN
        .log
        .computeIfAbsent("berth " + number % 90, key -> new ArrayList<>())
        .add(new Entry());
  }
}
