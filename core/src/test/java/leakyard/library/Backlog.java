package leakyard.library;

import io.reactivex.rxjava3.subjects.UnicastSubject;
import leakyard.Program;

/** A stream that keeps what it was told until somebody listens, which nobody does. */
public final class Backlog implements Program {
  /** Ready to act. */
  public Backlog() {}

  private static final Mast MAST = new Mast();

  static final class Mast {
    private UnicastSubject<Signal> signals = UnicastSubject.create(8);
  }

  record Signal(int number, int[] flags) {}

  @Override
  public void act(int number) {
    for (int i = 0; i < 3; i++) {
      MAST.signals.onNext(new Signal(number, new int[100]));
    }
  }

  @Override
  public void release() {
    MAST.signals = UnicastSubject.create(8);
  }
}
