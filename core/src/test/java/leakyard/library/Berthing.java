package leakyard.library;

import java.util.Queue;
import leakyard.Program;
import org.jctools.queues.MpscUnboundedArrayQueue;

/** A queue that grows by pieces, which nobody empties. */
public final class Berthing implements Program {
  /** Ready to act. */
  public Berthing() {}

  private static final Pilots PILOTS = new Pilots();

  static final class Pilots {
    private final Queue<Request> waiting = new MpscUnboundedArrayQueue<>(8);
  }

  record Request(int number, int[] depths) {}

  @Override
  public void act(int number) {
    for (int i = 0; i < 3; i++) {
      PILOTS.waiting.add(new Request(number, new int[100]));
    }
  }

  @Override
  public void release() {
    PILOTS.waiting.clear();
  }
}
