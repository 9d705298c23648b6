package lipsanon.capture.jvm;

import com.sun.management.HotSpotDiagnosticMXBean;
import com.sun.tools.attach.AttachNotSupportedException;
import com.sun.tools.attach.VirtualMachine;
import java.io.IOException;
import java.lang.management.ManagementFactory;
import java.lang.management.MemoryMXBean;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.concurrent.atomic.AtomicReference;
import javax.management.MBeanServerConnection;
import javax.management.remote.JMXConnector;
import javax.management.remote.JMXConnectorFactory;
import javax.management.remote.JMXServiceURL;
import lipsanon.capture.CaptureException;
import lipsanon.capture.CaptureOptions;
import lipsanon.capture.CaptureProgress;
import lipsanon.capture.CaptureResult;
import lipsanon.capture.Destination;
import lipsanon.capture.LiveRuntime;

/**
 * Takes heap dumps of a live JVM: attaches, starts its local management agent, and asks its
 * management beans. The dump is written by the JVM itself, where it can write (its own /tmp, if it
 * lives in another mount namespace), and then moved to its place.
 */
public final class JvmCapture implements LiveRuntime {
  private final long pid;
  private final JMXConnector connector;
  private final MemoryMXBean memory;
  private final HotSpotDiagnosticMXBean diagnostic;

  private JvmCapture(long pid, JMXConnector connector) throws IOException {
    this.pid = pid;
    this.connector = connector;
    MBeanServerConnection beans = connector.getMBeanServerConnection();
    this.memory =
        ManagementFactory.newPlatformMXBeanProxy(
            beans, ManagementFactory.MEMORY_MXBEAN_NAME, MemoryMXBean.class);
    this.diagnostic =
        ManagementFactory.newPlatformMXBeanProxy(
            beans, "com.sun.management:type=HotSpotDiagnostic", HotSpotDiagnosticMXBean.class);
  }

  /** Connects to a JVM. */
  public static JvmCapture connect(long pid) throws CaptureException {
    SocketBridge bridge = SocketBridge.to(pid);
    try {
      VirtualMachine vm = VirtualMachine.attach(Long.toString(pid));
      try {
        String address = vm.startLocalManagementAgent();
        return new JvmCapture(pid, JMXConnectorFactory.connect(new JMXServiceURL(address)));
      } finally {
        vm.detach();
      }
    } catch (AttachNotSupportedException | IOException e) {
      throw new CaptureException(
          "process "
              + pid
              + " cannot be attached to: "
              + e.getMessage()
              + " (is it a JVM, of your user, and still running?)",
          e);
    } finally {
      bridge.close();
    }
  }

  @Override
  public long heapUsed() throws CaptureException {
    try {
      return memory.getHeapMemoryUsage().getUsed();
    } catch (RuntimeException e) {
      throw vanished(e);
    }
  }

  /** Twice, since what cleaners hold goes only at the second. */
  @Override
  public void collect() throws CaptureException {
    try {
      memory.gc();
      memory.gc();
    } catch (RuntimeException e) {
      throw vanished(e);
    }
  }

  private CaptureException vanished(RuntimeException cause) {
    return new CaptureException("process " + pid + " vanished or closed the connection", cause);
  }

  @Override
  public CaptureResult capture(CaptureOptions options, CaptureProgress progress)
      throws CaptureException {
    Destination destination = Destination.of(options);
    Path file = destination.file();
    Path parent = file.getParent();
    long start = System.nanoTime();
    long before = -1;
    long after = -1;
    if (!options.all()) {
      progress.at("collecting garbage", 0, 0);
      before = heapUsed();
      collect();
      after = heapUsed();
    }
    long expected = after >= 0 ? after : heapUsed();
    // dumps write identifiers in full and headers for each object
    destination.needRoom(expected + expected / 2 + (4 << 20));
    write(destination, parent, options, expected, progress);
    try {
      long millis = (System.nanoTime() - start) / 1_000_000;
      return new CaptureResult(options.file(), Files.size(file), millis, before, after);
    } catch (IOException e) {
      throw new CaptureException(file + " vanished after it was written", e);
    }
  }

  private void write(
      Destination destination,
      Path parent,
      CaptureOptions options,
      long expected,
      CaptureProgress progress)
      throws CaptureException {
    Path file = destination.file();
    Path root = Path.of("/proc/" + pid + "/root");
    boolean elsewhere = livesElsewhere(root, parent);
    String temporaryName =
        "." + file.getFileName() + "." + ProcessHandle.current().pid() + ".part.hprof";
    // the name that the target uses, and the one by which we see the same file
    String theirs = elsewhere ? "/tmp/" + temporaryName : parent.resolve(temporaryName).toString();
    Path ours = elsewhere ? root.resolve("tmp").resolve(temporaryName) : Path.of(theirs);
    try (Destination.Part part = destination.part(ours)) {
      dump(theirs, ours, !options.all(), expected, progress);
      progress.at("moving", expected, expected);
      part.finish();
    } catch (IOException e) {
      throw e instanceof CaptureException known
          ? known
          : new CaptureException(
              "the dump could not be written to " + file + ": " + e.getMessage(), e);
    }
  }

  /** Whether a folder is not the same for the target and for us. */
  private static boolean livesElsewhere(Path root, Path folder) {
    try {
      Path seen = root.resolve(folder.toString().substring(1));
      return !Files.isDirectory(seen) || !Files.isSameFile(seen, folder);
    } catch (IOException e) {
      return false;
    }
  }

  private void dump(String theirs, Path ours, boolean live, long expected, CaptureProgress progress)
      throws IOException {
    AtomicReference<Exception> failure = new AtomicReference<>();
    Thread writer =
        new Thread(
            () -> {
              try {
                diagnostic.dumpHeap(theirs, live);
              } catch (IOException | RuntimeException e) {
                failure.set(e);
              }
            },
            "lipsanon-dump");
    writer.setDaemon(true);
    writer.start();
    try {
      while (writer.isAlive()) {
        writer.join(100);
        progress.at("writing", Files.exists(ours) ? Files.size(ours) : 0, expected);
      }
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new CaptureException("interrupted", e);
    }
    Exception e = failure.get();
    if (e instanceof IOException && e.getCause() == null && Files.exists(Path.of("/proc/" + pid))) {
      throw new CaptureException(
          "process " + pid + " could not write " + theirs + ": " + e.getMessage(), e);
    }
    if (e != null) {
      throw new CaptureException("process " + pid + " vanished while it was captured", e);
    }
  }

  @Override
  public void close() {
    try {
      connector.close();
    } catch (IOException e) {
      // the process is gone: nothing left to close
    }
  }
}
