package lipsanon.capture.dotnet;

import java.io.IOException;
import java.nio.channels.FileChannel;
import java.nio.file.Path;
import java.time.Duration;
import java.util.concurrent.TimeUnit;
import lipsanon.capture.CaptureException;
import lipsanon.capture.CaptureOptions;
import lipsanon.capture.Destination;
import lipsanon.capture.Stop;

/** Records where a .NET process allocates: one sample for about 100 kB, with its stack. */
public final class DotnetRecorder {
  private static final long ALLOCATIONS = 0x1;
  private static final int VERBOSE = 5;

  /** At the end: names of methods and of their modules, and what machine code comes from what. */
  private static final long METHODS = 0x20038;

  private static final int BUFFER_MEGABYTES = 256;
  private static final Duration PATIENCE = Duration.ofSeconds(30);

  private DotnetRecorder() {}

  /**
   * Records until it is told to stop.
   *
   * @return how long it was, in milliseconds
   */
  public static long record(long pid, Path file, boolean force, Stop until)
      throws CaptureException {
    Path socket = DotnetTargets.socket(pid);
    if (socket == null) {
      throw new CaptureException("process " + pid + " has no diagnostics port, or has ended");
    }
    Destination destination = Destination.of(new CaptureOptions(file, false, force, false));
    Path temporary = destination.partName();
    long start = System.nanoTime();
    try (Destination.Part part = destination.part(temporary);
        FileChannel out = Destination.create(temporary)) {
      DiagnosticPort.Provider provider =
          new DiagnosticPort.Provider("Microsoft-Windows-DotNETRuntime", ALLOCATIONS, VERBOSE, "");
      try (TraceSession session =
          TraceSession.begin(
              new DiagnosticPort(pid, socket),
              BUFFER_MEGABYTES,
              METHODS,
              true,
              PATIENCE,
              some -> {
                while (some.hasRemaining()) {
                  out.write(some);
                }
              },
              provider)) {
        Thread hook = new Thread(session::close);
        Runtime.getRuntime().addShutdownHook(hook);
        while (!until.stop((System.nanoTime() - start) / 1_000_000)) {
          if (session.ended()) {
            throw new CaptureException("process " + pid + " ended while it was recorded");
          }
          TimeUnit.MILLISECONDS.sleep(100);
        }
        session.stop();
        Runtime.getRuntime().removeShutdownHook(hook);
      }
      out.force(true);
      part.finish();
    } catch (CaptureException e) {
      throw e;
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new CaptureException("interrupted", e);
    } catch (IOException e) {
      throw new CaptureException("the recording could not be written: " + e.getMessage(), e);
    }
    return (System.nanoTime() - start) / 1_000_000;
  }
}
