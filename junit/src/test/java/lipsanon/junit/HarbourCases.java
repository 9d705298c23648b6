package lipsanon.junit;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.parallel.Execution;
import org.junit.jupiter.api.parallel.ExecutionMode;

/** Tests that other tests run: a harbour office that forgets to let go, and one that does not. */
final class HarbourCases {
  private HarbourCases() {}

  /** Vessels that subscribe to the tides. */
  static final class TideBoard {
    final List<VesselCall> subscribers = new ArrayList<>();
    final Map<Integer, byte[]> charts = new HashMap<>();
  }

  /** A call of a vessel. */
  static final class VesselCall {
    final String vessel;
    final byte[] manifest = new byte[400];

    VesselCall(String vessel) {
      this.vessel = vessel;
    }
  }

  static final TideBoard BOARD = new TideBoard();

  /** Departed vessels stay subscribed. */
  static final class Leaky {
    private int calls;

    @StaysFlat
    @Test
    void vesselsLeave() {
      BOARD.subscribers.add(new VesselCall("Alma " + calls++));
    }
  }

  /** They are taken out. */
  static final class Clean {
    private int calls;

    @StaysFlat(actions = 3, rounds = 2)
    @Test
    void vesselsLeave() {
      VesselCall call = new VesselCall("Alma " + calls++);
      BOARD.subscribers.add(call);
      BOARD.subscribers.remove(call);
    }
  }

  /** A cache of charts that has room for 20. */
  static final class Bounded {
    private int asked;

    @StaysFlat
    @Test
    void chartsAreKept() {
      BOARD.charts.put(asked++ % 20, new byte[2000]);
    }
  }

  /** So much may pile up. */
  static final class Allowed {
    private int calls;

    @StaysFlat(allowedBytes = 10_000)
    @Test
    void vesselsLeave() {
      BOARD.subscribers.add(new VesselCall("Alma " + calls++));
    }
  }

  /** The action itself fails. */
  static final class Broken {
    @StaysFlat
    @Test
    void vesselsLeave() {
      throw new UnsupportedOperationException("no berth");
    }
  }

  /** Runs beside others. */
  @Execution(ExecutionMode.CONCURRENT)
  static final class Beside {
    @StaysFlat
    @Test
    void vesselsLeave() {
      BOARD.charts.clear();
    }
  }

  /** A second rehearsal while one runs. */
  static void twoAtOnce() throws Throwable {
    CountDownLatch begun = new CountDownLatch(1);
    CountDownLatch refused = new CountDownLatch(1);
    Thread first =
        new Thread(
            () -> {
              try {
                HeapRehearsal.of(
                        () -> {
                          begun.countDown();
                          refused.await(60, TimeUnit.SECONDS);
                        })
                    .rounds(1)
                    .actions(1)
                    .check();
              } catch (Throwable e) {
                throw new AssertionError(e);
              }
            });
    first.start();
    begun.await(60, TimeUnit.SECONDS);
    try {
      HeapRehearsal.of(() -> {}).named("second").check();
    } finally {
      refused.countDown();
      first.join();
    }
  }
}
