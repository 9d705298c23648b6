package lipsanon.capture.dotnet;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.SocketChannel;
import java.time.Duration;
import java.util.concurrent.atomic.AtomicLong;
import java.util.concurrent.atomic.AtomicReference;
import lipsanon.capture.CaptureException;

/** A tracing session: its stream is read on a thread of its own until it ends. */
final class TraceSession implements AutoCloseable {
  private static final Duration STOP_PATIENCE = Duration.ofSeconds(60);
  private static final int BUFFER = 1 << 18;

  private final DiagnosticPort port;
  private final SocketChannel channel;
  private final long id;
  private final Thread reader;
  private final AtomicReference<IOException> failure = new AtomicReference<>();
  private final AtomicLong lastSign = new AtomicLong(System.nanoTime());
  private volatile boolean ended;
  private boolean stopped;

  /** Hears the stream. */
  interface Sink {
    void bytes(ByteBuffer some) throws IOException;
  }

  private TraceSession(DiagnosticPort port, DiagnosticPort.Open open, Sink sink) {
    this.port = port;
    this.channel = open.channel();
    this.id = open.payload().getLong();
    this.reader = new Thread(() -> read(sink), "lipsanon-trace");
    reader.setDaemon(true);
    reader.start();
  }

  /** Begins; comes back when the runtime has answered. */
  static TraceSession begin(
      DiagnosticPort port,
      int bufferMegabytes,
      long rundown,
      boolean stacks,
      Duration patience,
      Sink sink,
      DiagnosticPort.Provider... providers)
      throws CaptureException {
    try {
      byte[] request = DiagnosticPort.tracing(bufferMegabytes, rundown, stacks, providers);
      return new TraceSession(
          port,
          port.open(DiagnosticPort.SET_TRACE, DiagnosticPort.COLLECT_TRACING_4, request, patience),
          sink);
    } catch (DiagnosticPort.UnknownCommandException e) {
      // runtimes before 9 know an older form, which names no methods
      byte[] request = DiagnosticPort.tracing(bufferMegabytes, -1, stacks, providers);
      return new TraceSession(
          port,
          port.open(DiagnosticPort.SET_TRACE, DiagnosticPort.COLLECT_TRACING_2, request, patience),
          sink);
    }
  }

  private void read(Sink sink) {
    ByteBuffer buffer = ByteBuffer.allocateDirect(BUFFER);
    try {
      while (channel.read(buffer.clear()) >= 0) {
        lastSign.set(System.nanoTime());
        sink.bytes(buffer.flip());
      }
    } catch (IOException e) {
      failure.set(e);
    } finally {
      ended = true;
    }
  }

  /** How long nothing came. */
  Duration silent() {
    return Duration.ofNanos(System.nanoTime() - lastSign.get());
  }

  /** Whether the stream has ended. */
  boolean ended() {
    return ended;
  }

  /** Ends the session; what the runtime still has is read to the end. */
  void stop() throws CaptureException {
    if (!stopped) {
      stopped = true;
      ByteBuffer request = ByteBuffer.allocate(Long.BYTES).order(java.nio.ByteOrder.LITTLE_ENDIAN);
      byte[] payload = request.putLong(id).array();
      port.ask(DiagnosticPort.SET_TRACE, DiagnosticPort.STOP_TRACING, payload, STOP_PATIENCE);
    }
    long end = System.nanoTime() + STOP_PATIENCE.toNanos();
    try {
      while (!ended) {
        reader.join(200);
        if (System.nanoTime() > end && silent().compareTo(STOP_PATIENCE) > 0) {
          throw new CaptureException("the event stream does not end");
        }
      }
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new CaptureException("interrupted", e);
    }
    if (failure.get() != null) {
      throw new CaptureException(
          "the event stream could not be kept: " + failure.get().getMessage(), failure.get());
    }
  }

  /** Ends it in any case; the runtime ends a session whose connection is gone. */
  @Override
  public void close() {
    if (!stopped) {
      try {
        stop();
      } catch (CaptureException e) {
        // the process is gone, or silent: closing is all that can be done
        stopped = true;
      }
    }
    DiagnosticPort.close(channel);
  }
}
