package leakyard;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/** A small part of the heap that variables of two classes hold, in parts. */
public final class TwoOffices implements Program {
  static final class Day {
    private static final List<Envelope> OPEN = new ArrayList<>();
  }

  static final class Night {
    private static final Map<Integer, Envelope> SEEN = new HashMap<>();
  }

  /** What is to be delivered. */
  record Envelope(Letter letter) {}

  record Letter(int number, int[] lines) {}

  private final byte[][] archive = new byte[40][100_000];

  /** Ready to act. */
  public TwoOffices() {}

  @Override
  public void act(int number) {
    archive[number % archive.length][0]++;
    Letter letter = new Letter(number, new int[100]);
    Day.OPEN.add(new Envelope(letter));
    Night.SEEN.put(number, new Envelope(letter));
  }
}
