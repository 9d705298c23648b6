package lipsanon.cli.command.live;

import java.io.IOException;
import java.nio.file.Path;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.atomic.AtomicReference;
import lipsanon.capture.CaptureException;
import lipsanon.capture.RuntimeInfo;
import lipsanon.capture.jvm.JvmRecorder;

/** A recording of a Java VM that goes on beside something else. */
final class Background {
  private static final long LONGEST_MILLIS = 24 * 3_600_000L;

  private final Path file;
  private final AtomicReference<IOException> failure = new AtomicReference<>();
  private volatile boolean over;
  private Thread thread;

  /** Records into a file, once it is started. */
  Background(Path file) {
    this.file = file;
  }

  Path file() {
    return file;
  }

  /** Begins; comes back when the VM records. */
  void start(RuntimeInfo info) throws IOException, InterruptedException {
    if (!info.kind().equals(RuntimeInfo.JVM)) {
      throw new CaptureException(
          "--record is for JVMs; in V8 `lipsanon capture --record-allocations` tells of each object"
              + " where it was allocated");
    }
    CountDownLatch begun = new CountDownLatch(1);
    thread =
        new Thread(
            () -> {
              try (JvmRecorder recorder = JvmRecorder.connect(info.pid())) {
                recorder.record(
                    file,
                    false,
                    LONGEST_MILLIS,
                    true,
                    sofar -> {
                      begun.countDown();
                      return over;
                    });
              } catch (IOException e) {
                failure.set(e);
              } finally {
                begun.countDown();
              }
            },
            "lipsanon-recording");
    thread.start();
    begun.await();
    if (failure.get() != null) {
      throw failure.get();
    }
  }

  /** Ends it and waits for the file. */
  void finish() throws IOException, InterruptedException {
    over = true;
    if (thread != null) {
      thread.join();
    }
    if (failure.get() != null) {
      throw failure.get();
    }
  }
}
