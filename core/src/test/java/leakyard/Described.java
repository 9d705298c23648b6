package leakyard;

import java.beans.Introspector;

/** Asks the JDK about a class that is loaded anew with each call: it remembers that softly. */
public final class Described implements Program {
  /** Ready to act. */
  public Described() {}

  /** What is loaded anew. */
  public static final class Berth {
    private int depth;

    /** Metres. */
    public int getDepth() {
      return depth;
    }

    /** Metres. */
    public void setDepth(int depth) {
      this.depth = depth;
    }
  }

  @Override
  public void act(int number) throws Exception {
    Program.churn(number);
    Introspector.getBeanInfo(Copies.of(Berth.class));
  }
}
