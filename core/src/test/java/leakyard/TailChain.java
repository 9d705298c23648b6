package leakyard;

/** A linked chain that grows at its tail. */
public final class TailChain implements Program {
  /** Ready to act. */
  public TailChain() {}

  static final class Entry {
    Entry next;
    final byte[] text = new byte[700];
  }

  static final class Journal {
    private final Entry first = new Entry();
    private Entry tail = first;

    void write() {
      tail.next = new Entry();
      tail = tail.next;
    }
  }

  private static final Journal JOURNAL = new Journal();

  @Override
  public void act(int number) {
    Program.churn(number);
    for (int i = 0; i < 4; i++) {
      JOURNAL.write();
    }
  }
}
