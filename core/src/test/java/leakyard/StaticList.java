package leakyard;

import java.util.ArrayList;
import java.util.List;

/** A static list that only grows. */
public final class StaticList implements Program {
  /** Ready to act. */
  public StaticList() {}

  static final List<Lantern> LIT = new ArrayList<>();

  record Lantern(String place, byte[] oil) {}

  @Override
  public void act(int number) {
    Program.churn(number);
    LIT.add(new Lantern("quay " + number, new byte[2000]));
  }
}
