package leakyard;

/** A chain that grows at its head. */
public final class LinkedLedger implements Program {
  /** Ready to act. */
  public LinkedLedger() {}

  static final class Line {
    final byte[] text = new byte[300];
    Line before;
  }

  static final class Ledger {
    private Line last;

    void write() {
      Line line = new Line();
      line.before = last;
      last = line;
    }
  }

  private static final Ledger LEDGER = new Ledger();

  @Override
  public void act(int number) {
    for (int i = 0; i < 8; i++) {
      LEDGER.write();
    }
  }
}
