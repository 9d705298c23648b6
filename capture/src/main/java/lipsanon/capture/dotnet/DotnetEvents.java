package lipsanon.capture.dotnet;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.file.Path;
import java.time.Duration;
import lipsanon.capture.CaptureException;

/** What a .NET process tells of its heap by itself: counters and collections; nothing is forced. */
public final class DotnetEvents implements AutoCloseable {
  private static final Duration PATIENCE = Duration.ofSeconds(30);
  private static final int BUFFER_MEGABYTES = 16;
  private static final long COLLECTIONS = 0x1;
  private static final int INFORMATIONAL = 4;

  private final TraceSession session;
  private final Thread hook;

  /** Hears the stream. */
  public interface Listener {
    /** Some bytes of it; on a thread of its own. */
    void bytes(ByteBuffer some) throws IOException;
  }

  private DotnetEvents(TraceSession session) {
    this.session = session;
    this.hook = new Thread(session::close);
    Runtime.getRuntime().addShutdownHook(hook);
  }

  /** Begins to listen. */
  public static DotnetEvents open(long pid, Listener listener) throws CaptureException {
    Path socket = DotnetTargets.socket(pid);
    if (socket == null) {
      throw new CaptureException("process " + pid + " has no diagnostics port, or has ended");
    }
    return new DotnetEvents(
        TraceSession.begin(
            new DiagnosticPort(pid, socket),
            BUFFER_MEGABYTES,
            0,
            false,
            PATIENCE,
            listener::bytes,
            new DiagnosticPort.Provider(
                "Microsoft-Windows-DotNETRuntime", COLLECTIONS, INFORMATIONAL, ""),
            new DiagnosticPort.Provider(
                "System.Runtime", 0, INFORMATIONAL, "EventCounterIntervalSec=1")));
  }

  /** Whether the process has ended, or its stream. */
  public boolean ended() {
    return session.ended();
  }

  @Override
  public void close() {
    session.close();
    try {
      Runtime.getRuntime().removeShutdownHook(hook);
    } catch (IllegalStateException e) {
      // going down already; the hook does the same
    }
  }
}
