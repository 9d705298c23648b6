package leakyard.library;

import io.reactivex.rxjava3.subjects.PublishSubject;
import leakyard.Program;

/** Subscriptions to a stream that are never ended. */
public final class Subject implements Program {
  /** Ready to act. */
  public Subject() {}

  private static final Board BOARD = new Board();

  static final class Board {
    private PublishSubject<Integer> heights = PublishSubject.create();
  }

  static final class Display {
    final char[] text = new char[400];

    void show(int height) {
      text[0] = (char) height;
    }
  }

  @Override
  public void act(int number) {
    Display display = new Display();
    BOARD.heights.map(height -> height + 1).filter(height -> height > 0).subscribe(display::show);
    BOARD.heights.onNext(number);
  }

  @Override
  public void release() {
    BOARD.heights = PublishSubject.create();
  }
}
