package lipsanon.cli.term;

import java.io.PrintWriter;
import java.time.Duration;
import java.util.concurrent.CancellationException;
import lipsanon.io.Progress;
import me.tongfei.progressbar.DelegatingProgressBarConsumer;
import me.tongfei.progressbar.ProgressBar;
import me.tongfei.progressbar.ProgressBarBuilder;
import me.tongfei.progressbar.ProgressBarStyle;

/** Draws phases, percentages and the time that remains on the error stream of a terminal. */
public final class TerminalProgress implements Progress, AutoCloseable {
  private static final int WIDTH = 90;
  private static final int EVERY_MILLIS = 150;
  private static final long PATIENCE_NANOS = 700_000_000L;

  private final PrintWriter err;
  private final boolean draws;
  private final long begun = System.nanoTime();
  private ProgressBar bar;
  private volatile boolean drawn;
  private volatile boolean cancelled;

  /** With {@code draws} false, says only what the user must know. */
  public TerminalProgress(PrintWriter err, boolean draws) {
    this.err = err;
    this.draws = draws;
  }

  @Override
  public void phase(String name, long total) {
    stopIfCancelled();
    endPhase();
    if (name.length() > WIDTH / 3) {
      err.println("lipsanon: " + name);
      err.flush();
    } else if (draws) {
      bar =
          new ProgressBarBuilder()
              .setTaskName(name)
              .setInitialMax(total > 0 ? total : -1)
              .setUpdateIntervalMillis(EVERY_MILLIS)
              .setStyle(ProgressBarStyle.ASCII)
              .setConsumer(new DelegatingProgressBarConsumer(this::draw, WIDTH))
              .setEtaFunction(
                  state ->
                      state.getCurrent() <= state.getStart()
                          ? java.util.Optional.empty()
                          : java.util.Optional.of(remaining(state)))
              .build();
    }
  }

  /** Draws over the line before; what is over in a moment is not drawn at all. */
  private void draw(String line) {
    if (System.nanoTime() - begun > PATIENCE_NANOS) {
      err.print("\r" + line);
      err.flush();
      drawn = true;
    }
  }

  private static Duration remaining(me.tongfei.progressbar.ProgressState state) {
    double done = (state.getCurrent() - state.getStart()) / (double) Math.max(1, state.getMax());
    long millis = state.getElapsedAfterStart().toMillis();
    return Duration.ofMillis((long) (millis * (1 - done) / Math.max(1e-6, done)));
  }

  @Override
  public void at(long done) {
    stopIfCancelled();
    if (bar != null) {
      bar.stepTo(done);
    }
  }

  /** Makes the computation end at its next step. */
  public void cancel() {
    cancelled = true;
  }

  private void stopIfCancelled() {
    if (cancelled) {
      throw new CancellationException("stopped");
    }
  }

  private void endPhase() {
    if (bar != null) {
      bar.close();
      bar = null;
      if (drawn) {
        err.print("\r" + " ".repeat(WIDTH) + "\r");
        err.flush();
        drawn = false;
      }
    }
  }

  @Override
  public void close() {
    endPhase();
  }
}
