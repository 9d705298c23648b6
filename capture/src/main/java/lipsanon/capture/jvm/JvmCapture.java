package lipsanon.capture.jvm;

import com.sun.management.HotSpotDiagnosticMXBean;
import com.sun.tools.attach.AttachNotSupportedException;
import com.sun.tools.attach.VirtualMachine;
import java.io.IOException;
import java.lang.management.ManagementFactory;
import java.lang.management.MemoryMXBean;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.concurrent.atomic.AtomicReference;
import javax.management.MBeanServerConnection;
import javax.management.remote.JMXConnector;
import javax.management.remote.JMXConnectorFactory;
import javax.management.remote.JMXServiceURL;
import lipsanon.capture.CaptureException;
import lipsanon.capture.CaptureOptions;
import lipsanon.capture.CaptureProgress;
import lipsanon.capture.CaptureResult;

/**
 * Takes heap dumps of a live JVM: attaches, starts its local management agent, and asks its
 * management beans. The dump is written by the JVM itself, where it can write (its own /tmp, if it
 * lives in another mount namespace), and then moved to its place.
 */
public final class JvmCapture implements AutoCloseable {
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

  /** Heap in use now, in bytes, garbage included. */
  public long heapUsed() throws CaptureException {
    try {
      return memory.getHeapMemoryUsage().getUsed();
    } catch (RuntimeException e) {
      throw vanished(e);
    }
  }

  /** Forces a full collection; twice, since what cleaners hold goes only at the second. */
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

  /** Takes a snapshot. */
  public CaptureResult capture(CaptureOptions options, CaptureProgress progress)
      throws CaptureException {
    Path file = options.file().toAbsolutePath();
    if (Files.exists(file) && !options.force()) {
      throw new CaptureException(file + " is there already; give another name or --force");
    }
    Path parent = file.getParent();
    if (!Files.isDirectory(parent) || !Files.isWritable(parent)) {
      throw new CaptureException(parent + " is no folder that can be written to");
    }
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
    checkRoom(parent, expected, file);
    write(file, parent, options, expected, progress);
    try {
      long millis = (System.nanoTime() - start) / 1_000_000;
      return new CaptureResult(options.file(), Files.size(file), millis, before, after);
    } catch (IOException e) {
      throw new CaptureException(file + " vanished after it was written", e);
    }
  }

  private static void checkRoom(Path folder, long expected, Path file) throws CaptureException {
    try {
      long free = Files.getFileStore(folder).getUsableSpace();
      // dumps write identifiers in full and headers for each object
      long wanted = expected + expected / 2 + (4 << 20);
      if (free < wanted) {
        throw new CaptureException(
            "the disk of "
                + file
                + " has "
                + (free >> 20)
                + " MB free, and the dump may take "
                + (wanted >> 20)
                + " MB; choose another place with -o");
      }
    } catch (CaptureException e) {
      throw e;
    } catch (IOException e) {
      throw new CaptureException("the free space of " + folder + " cannot be told", e);
    }
  }

  private void write(
      Path file, Path parent, CaptureOptions options, long expected, CaptureProgress progress)
      throws CaptureException {
    Path root = Path.of("/proc/" + pid + "/root");
    boolean elsewhere = livesElsewhere(root, parent);
    String temporaryName =
        "." + file.getFileName() + "." + ProcessHandle.current().pid() + ".part.hprof";
    // the name that the target uses, and the one by which we see the same file
    String theirs = elsewhere ? "/tmp/" + temporaryName : parent.resolve(temporaryName).toString();
    Path ours = elsewhere ? root.resolve("tmp").resolve(temporaryName) : Path.of(theirs);
    Thread hook = new Thread(() -> ours.toFile().delete());
    Runtime.getRuntime().addShutdownHook(hook);
    try {
      dump(theirs, ours, !options.all(), expected, progress);
      restrict(ours);
      progress.at("moving", expected, expected);
      moveTo(ours, file, options.force());
    } catch (IOException e) {
      throw e instanceof CaptureException known
          ? known
          : new CaptureException(
              "the dump could not be written to " + file + ": " + e.getMessage(), e);
    } finally {
      delete(ours);
      if (Thread.currentThread() != hook) {
        removeHook(hook);
      }
    }
  }

  private static void removeHook(Thread hook) {
    try {
      Runtime.getRuntime().removeShutdownHook(hook);
    } catch (IllegalStateException e) {
      // the process is going down, and the hook does its work
    }
  }

  private static void delete(Path file) {
    try {
      Files.deleteIfExists(file);
    } catch (IOException e) {
      // nothing that could still be done
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

  private static void restrict(Path file) throws IOException {
    try {
      Files.setPosixFilePermissions(file, PosixFilePermissions.fromString("rw-------"));
    } catch (UnsupportedOperationException e) {
      // a file system without modes has nothing to restrict
    }
  }

  private static void moveTo(Path from, Path to, boolean force) throws IOException {
    if (Files.exists(to, LinkOption.NOFOLLOW_LINKS) && !force) {
      throw new CaptureException(to + " appeared meanwhile; give another name or --force");
    }
    try {
      Files.move(from, to, StandardCopyOption.ATOMIC_MOVE);
    } catch (java.nio.file.AtomicMoveNotSupportedException e) {
      // another file system: copy beside, then rename
      Path beside = to.resolveSibling("." + to.getFileName() + ".part");
      try {
        Files.copy(from, beside, StandardCopyOption.REPLACE_EXISTING);
        restrict(beside);
        Files.move(beside, to, StandardCopyOption.ATOMIC_MOVE);
      } finally {
        Files.deleteIfExists(beside);
      }
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
