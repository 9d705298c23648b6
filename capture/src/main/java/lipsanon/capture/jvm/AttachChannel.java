package lipsanon.capture.jvm;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.net.StandardProtocolFamily;
import java.net.UnixDomainSocketAddress;
import java.nio.ByteBuffer;
import java.nio.channels.SelectionKey;
import java.nio.channels.Selector;
import java.nio.channels.SocketChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.concurrent.TimeUnit;
import lipsanon.capture.CaptureException;
import lipsanon.capture.Processes;

/**
 * The channel that every HotSpot VM offers to tools of its own user: a Unix socket in its temporary
 * folder. Nothing is loaded into the VM and no port is opened; all that stays is the VM's own
 * thread that listens there, and only until the VM ends.
 *
 * <pre>
 * Request --> "1" 0 command 0 argument 0 argument 0 argument 0     (one a connection)
 * Answer  --> number "\n" text                                     (0: fine; until the stream ends)
 * </pre>
 *
 * The VM makes the socket when it finds a file {@code .attach_pidN} in its working folder on
 * SIGQUIT.
 */
final class AttachChannel {
  private static final String PROTOCOL = "1";
  private static final int ARGUMENTS = 3;
  private static final int SIGQUIT_BIT = 1 << 2;
  private static final Duration SOCKET_PATIENCE = Duration.ofSeconds(15);

  /** More than any answer that is asked for; a histogram of 100,000 classes has some 10 MB. */
  private static final int LONGEST_ANSWER = 256 << 20;

  private final long pid;
  private final Path socket;
  private final Duration patience;

  /** Hears that an answer is still awaited. */
  interface Waiting {
    /**
     * Told some ten times a second.
     *
     * @param silentMillis since the last sign of life
     * @return whether there is a sign of life elsewhere, such as a file that grows
     */
    boolean waited(long silentMillis) throws IOException;
  }

  private AttachChannel(long pid, Path socket, Duration patience) {
    this.pid = pid;
    this.socket = socket;
    this.patience = patience;
  }

  /**
   * Has a VM open its channel, if it has not yet.
   *
   * @param patience how long an answer may take without a sign of life
   * @throws CaptureException if it cannot, with the reason and what to do
   */
  static AttachChannel to(long pid, Duration patience) throws CaptureException {
    Path process = Path.of("/proc/" + pid);
    if (!Files.isDirectory(process)) {
      throw new CaptureException("process " + pid + " does not exist any more");
    }
    long inner = Processes.innerPid(process, pid);
    Path socket = process.resolve("root/tmp").resolve(".java_pid" + inner);
    try {
      if (!Files.exists(socket, LinkOption.NOFOLLOW_LINKS)) {
        open(process, pid, inner, socket);
      }
      // somebody else's socket under that name would hear all that is asked
      if (!Files.getAttribute(socket, "unix:uid", LinkOption.NOFOLLOW_LINKS)
          .equals(Files.getAttribute(process, "unix:uid"))) {
        throw new CaptureException(
            socket + " does not belong to the user of process " + pid + ": not used");
      }
    } catch (CaptureException e) {
      throw e;
    } catch (IOException e) {
      throw new CaptureException(
          "process " + pid + " cannot be attached to: " + reason(e) + hint(process), e);
    }
    return new AttachChannel(pid, socket, patience);
  }

  private static String reason(IOException e) {
    return e instanceof java.nio.file.AccessDeniedException
        ? "permission denied for " + e.getMessage()
        : String.valueOf(e.getMessage());
  }

  private static String hint(Path process) {
    return Files.isDirectory(process)
        ? " (is it a JVM of your user, or are you root?)"
        : " (it has ended)";
  }

  private static void refuseIfStopped(long pid) throws CaptureException {
    if (Processes.stopped(pid)) {
      throw new CaptureException(
          "process "
              + pid
              + " is stopped and cannot answer; let it go on (kill -CONT "
              + pid
              + ")");
    }
  }

  private static void open(Path process, long pid, long inner, Path socket) throws IOException {
    refuseIfItCannot(process, pid);
    refuseIfStopped(pid);
    Path trigger = process.resolve("cwd").resolve(".attach_pid" + inner);
    try {
      create(trigger);
    } catch (IOException e) {
      // a working folder that is gone or not writable
      trigger = process.resolve("root/tmp").resolve(".attach_pid" + inner);
      create(trigger);
    }
    try {
      if (Processes.signal(pid, "QUIT") != 0) {
        throw new CaptureException("process " + pid + " cannot be sent a signal (another user's?)");
      }
      long deadline = System.nanoTime() + SOCKET_PATIENCE.toNanos();
      while (!Files.exists(socket, LinkOption.NOFOLLOW_LINKS)) {
        if (!Files.isDirectory(process)) {
          throw new CaptureException(
              "process " + pid + " ended when it was asked to be attached to");
        }
        // a signal takes a moment to stop every thread, and may come while we wait
        refuseIfStopped(pid);
        if (System.nanoTime() > deadline) {
          throw new CaptureException(
              "process "
                  + pid
                  + " has not answered for "
                  + SOCKET_PATIENCE.toSeconds()
                  + " s (is it stopped, or that busy?)");
        }
        TimeUnit.MILLISECONDS.sleep(20);
      }
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new CaptureException("interrupted", e);
    } finally {
      Files.deleteIfExists(trigger);
    }
  }

  private static void create(Path trigger) throws IOException {
    try {
      Files.createFile(trigger);
    } catch (FileAlreadyExistsException e) {
      // left by a tool that was killed, or another tool asks at this moment: it serves as well
      return;
    }
  }

  /** A signal that the VM does not handle would end it. */
  private static void refuseIfItCannot(Path process, long pid) throws IOException {
    for (String word : Processes.command(process)) {
      if (word.equals("-XX:+DisableAttachMechanism")) {
        throw new CaptureException(
            "process "
                + pid
                + " was started with -XX:+DisableAttachMechanism and cannot be attached to;"
                + " start it without");
      }
    }
    List<String> status = Files.readAllLines(process.resolve("status"));
    for (String line : status) {
      if (line.startsWith("SigCgt:")) {
        String mask = line.substring(7).trim();
        long low = Long.parseUnsignedLong(mask.substring(Math.max(0, mask.length() - 16)), 16);
        if ((low & SIGQUIT_BIT) == 0) {
          throw new CaptureException(
              "process "
                  + pid
                  + " does not listen for tools yet (is it just starting?); try again");
        }
      }
    }
  }

  /**
   * Asks for something and waits for the answer.
   *
   * @return the text of the answer
   * @throws CaptureException if the VM refuses, vanishes, or gives no sign of life for too long
   */
  String ask(Waiting waiting, String command, String... arguments) throws CaptureException {
    ByteArrayOutputStream request = new ByteArrayOutputStream();
    word(request, PROTOCOL);
    word(request, command);
    for (int i = 0; i < ARGUMENTS; i++) {
      word(request, i < arguments.length ? arguments[i] : "");
    }
    String answer;
    try (SocketChannel channel = SocketChannel.open(StandardProtocolFamily.UNIX)) {
      channel.connect(UnixDomainSocketAddress.of(socket));
      channel.configureBlocking(false);
      answer = exchange(channel, ByteBuffer.wrap(request.toByteArray()), waiting);
    } catch (CaptureException e) {
      throw e;
    } catch (java.net.ConnectException e) {
      throw new CaptureException(
          "process " + pid + " does not listen at " + socket + " any more: restart it", e);
    } catch (IOException e) {
      throw vanished(e);
    }
    int end = answer.indexOf('\n');
    String code = end < 0 ? answer.trim() : answer.substring(0, end).trim();
    String text = end < 0 ? "" : answer.substring(end + 1);
    if (code.isEmpty()) {
      throw vanished(null);
    }
    if (!code.equals("0")) {
      String first =
          text.lines().filter(line -> !line.isBlank()).findFirst().orElse("code " + code);
      throw new CaptureException("process " + pid + " refused " + command + ": " + cut(first));
    }
    return text;
  }

  private static String cut(String line) {
    return line.length() > 300 ? line.substring(0, 300) + "..." : line;
  }

  private static void word(ByteArrayOutputStream request, String word) {
    request.writeBytes(word.getBytes(StandardCharsets.UTF_8));
    request.write(0);
  }

  private String exchange(SocketChannel channel, ByteBuffer request, Waiting waiting)
      throws IOException {
    ByteArrayOutputStream answer = new ByteArrayOutputStream();
    ByteBuffer buffer = ByteBuffer.allocate(1 << 16);
    long lastSign = System.nanoTime();
    try (Selector selector = Selector.open()) {
      SelectionKey key = channel.register(selector, SelectionKey.OP_WRITE);
      while (true) {
        selector.select(100);
        if (Thread.currentThread().isInterrupted()) {
          throw new CaptureException("interrupted");
        }
        boolean ready = !selector.selectedKeys().isEmpty();
        selector.selectedKeys().clear();
        if (ready && request.hasRemaining()) {
          channel.write(request);
          if (!request.hasRemaining()) {
            key.interestOps(SelectionKey.OP_READ);
          }
        } else if (ready) {
          buffer.clear();
          int count = channel.read(buffer);
          if (count < 0) {
            return answer.toString(StandardCharsets.UTF_8);
          }
          lastSign = System.nanoTime();
          answer.write(buffer.array(), 0, count);
          if (answer.size() > LONGEST_ANSWER) {
            throw new CaptureException("process " + pid + " answers without end");
          }
        }
        long silent = (System.nanoTime() - lastSign) / 1_000_000;
        if (waiting.waited(silent)) {
          lastSign = System.nanoTime();
        } else if (silent > patience.toMillis()) {
          throw new CaptureException(
              "process "
                  + pid
                  + " has not answered for "
                  + silent / 1000
                  + " s (is it stopped, or that busy?)");
        }
      }
    }
  }

  private CaptureException vanished(IOException cause) {
    return new CaptureException("process " + pid + " vanished or closed the connection", cause);
  }
}
