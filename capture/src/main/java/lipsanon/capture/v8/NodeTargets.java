package lipsanon.capture.v8;

import java.io.IOException;
import java.net.http.HttpTimeoutException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.TimeUnit;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import lipsanon.capture.CaptureException;
import lipsanon.capture.Processes;
import lipsanon.capture.RuntimeInfo;

/**
 * Finds the Node.js processes of this machine and their inspectors. A process's own listening ports
 * are told from /proc; only those that are likely to be an inspector's are asked, so that no
 * service gets a request that is not meant for it.
 */
public final class NodeTargets {
  /** Where an inspector listens that was opened by a signal. */
  private static final int DEFAULT_PORT = 9229;

  private static final String LISTENING = "0A";

  /** 127.0.0.1 and ::1 as the kernel writes them, each four bytes in the machine's order. */
  private static final Set<String> LOOPBACK =
      Set.of("0100007F", "00000000000000000000000001000000");

  private static final Pattern INSPECT =
      Pattern.compile("--inspect(?:-brk|-wait|-port)?(?:=(?:.*:)?([0-9]+))?(?=\\s|$)");
  private static final Pattern SOCKET = Pattern.compile("socket:\\[([0-9]+)\\]");
  private static final long PATIENCE_SECONDS = 15;

  /** An inspector has a thread of its own: unless the process is stopped, it answers at once. */
  private static final Duration ANSWER = Duration.ofSeconds(3);

  private static final int AT_ONCE = 16;

  private NodeTargets() {}

  /** All Node.js processes. */
  public static List<RuntimeInfo> list() throws IOException {
    List<Future<RuntimeInfo>> asked = new ArrayList<>();
    // side by side: one that does not answer must not hold up the others
    ExecutorService each = Executors.newFixedThreadPool(AT_ONCE);
    try {
      for (Path process : Processes.all()) {
        List<String> command = Processes.command(process);
        if (!command.isEmpty() && isNode(process, command.get(0))) {
          asked.add(each.submit(() -> look(process, command)));
        }
      }
      List<RuntimeInfo> found = new ArrayList<>();
      for (Future<RuntimeInfo> one : asked) {
        found.add(one.get());
      }
      return found;
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new CaptureException("interrupted", e);
    } catch (ExecutionException e) {
      throw new CaptureException(String.valueOf(e.getCause().getMessage()), e.getCause());
    } finally {
      each.shutdownNow();
    }
  }

  /** A process by its number if it is one of Node.js, else null. */
  public static RuntimeInfo look(long pid) {
    Path process = Path.of("/proc/" + pid);
    List<String> command = Processes.command(process);
    return command.isEmpty() || !isNode(process, command.get(0)) ? null : look(process, command);
  }

  private static boolean isNode(Path process, String first) {
    try {
      return named(Files.readSymbolicLink(process.resolve("exe")));
    } catch (IOException e) {
      return named(Path.of(first));
    }
  }

  private static boolean named(Path program) {
    Path name = program.getFileName();
    return name != null && name.toString().matches("node(js)?([-.]?[0-9.]+)?( \\(deleted\\))?");
  }

  private static RuntimeInfo look(Path process, List<String> command) {
    long pid = Processes.pid(process);
    String address = "";
    String access = RuntimeInfo.CLOSED;
    Set<Integer> ports;
    Set<Integer> likely = likely(process, command);
    try {
      ports = listening(process, false);
      if (!named(Path.of(command.get(0)))) {
        // its title stands in place of its arguments: any port for this machine alone may be it
        likely.addAll(listening(process, true));
      }
    } catch (IOException e) {
      return info(pid, command, process, "not accessible (another user's)", "");
    }
    for (int port : ports) {
      if (address.isEmpty() && (likely.contains(port) || likely.contains(0))) {
        try {
          address = Inspectors.addressAt(port, ANSWER);
          access = address.isEmpty() ? access : "yes";
        } catch (CaptureException e) {
          // a stopped or busy process listens, but does not answer
          boolean silent = e.getCause() instanceof HttpTimeoutException;
          access = silent ? RuntimeInfo.SILENT : access;
        }
      }
    }
    return info(pid, command, process, access, address);
  }

  private static RuntimeInfo info(
      long pid, List<String> command, Path process, String access, String address) {
    return new RuntimeInfo(
        Long.toString(pid),
        pid,
        RuntimeInfo.NODE,
        "",
        program(command),
        Processes.uptimeMillis(pid),
        -1,
        -1,
        access,
        address);
  }

  /** The script of a command line. */
  private static String program(List<String> command) {
    for (String word : command.subList(1, command.size())) {
      if (!word.startsWith("-")) {
        return word;
      }
    }
    return String.join(" ", command);
  }

  /** Ports that may be an inspector's; 0 stands for any. */
  private static Set<Integer> likely(Path process, List<String> command) {
    Set<Integer> ports = new HashSet<>(Set.of(DEFAULT_PORT));
    List<String> words = new ArrayList<>(command);
    for (String variable : Processes.environment(process)) {
      if (variable.startsWith("NODE_OPTIONS=")) {
        words.add(variable);
      }
    }
    for (String word : words) {
      Matcher matcher = INSPECT.matcher(word);
      while (matcher.find()) {
        if (matcher.group(1) != null) {
          ports.add(Integer.parseInt(matcher.group(1)));
        }
      }
    }
    return ports;
  }

  /**
   * The ports at which a process itself listens.
   *
   * @param onlyHere only those that this machine alone can reach
   */
  private static Set<Integer> listening(Path process, boolean onlyHere) throws IOException {
    Set<String> inodes = sockets(process);
    Set<Integer> ports = new HashSet<>();
    for (String[] words : listeners(process)) {
      String address = words[1].substring(0, words[1].lastIndexOf(':'));
      if (inodes.contains(words[9]) && (!onlyHere || LOOPBACK.contains(address))) {
        ports.add(port(words));
      }
    }
    return ports;
  }

  /** The inodes of the sockets that a process has open. */
  private static Set<String> sockets(Path process) throws IOException {
    Set<String> inodes = new HashSet<>();
    try (Stream<Path> files = Files.list(process.resolve("fd"))) {
      for (Path file : (Iterable<Path>) files::iterator) {
        try {
          Matcher matcher = SOCKET.matcher(Files.readSymbolicLink(file).toString());
          if (matcher.matches()) {
            inodes.add(matcher.group(1));
          }
        } catch (IOException e) {
          // closed meanwhile
        }
      }
    }
    return inodes;
  }

  /**
   * The rows of all that listens in the network namespace of a process: sl, local_address,
   * rem_address, st, tx_queue:rx_queue, tr:tm-&gt;when, retrnsmt, uid, timeout, inode.
   */
  private static List<String[]> listeners(Path process) throws IOException {
    List<String[]> rows = new ArrayList<>();
    for (String table : new String[] {"net/tcp", "net/tcp6"}) {
      Path file = process.resolve(table);
      for (String line : Files.exists(file) ? Files.readAllLines(file) : List.<String>of()) {
        String[] words = line.trim().split("\\s+");
        if (words.length > 9 && words[3].equals(LISTENING)) {
          rows.add(words);
        }
      }
    }
    return rows;
  }

  private static int port(String[] row) {
    return Integer.parseInt(row[1].substring(row[1].lastIndexOf(':') + 1), 16);
  }

  /**
   * Makes a process open its inspector, by SIGUSR1.
   *
   * @return the same process, accessible now
   */
  public static RuntimeInfo open(RuntimeInfo info) throws IOException {
    Path process = Path.of("/proc/" + info.pid());
    if (Processes.stopped(info.pid())) {
      throw new CaptureException(
          "process "
              + info.pid()
              + " is stopped and cannot answer; let it go on (kill -CONT "
              + info.pid()
              + ")");
    }
    String owner = ownerOf(DEFAULT_PORT, process);
    if (!owner.isEmpty()) {
      throw new CaptureException(
          "process "
              + info.pid()
              + " cannot open its inspector: port "
              + DEFAULT_PORT
              + ", the only one that it would take, is used by "
              + owner
              + "; end that, or start process "
              + info.pid()
              + " with --inspect=127.0.0.1:PORT");
    }
    try {
      if (Processes.signal(info.pid(), "USR1") != 0) {
        throw new CaptureException("process " + info.pid() + " cannot be sent a signal");
      }
      long deadline = System.nanoTime() + TimeUnit.SECONDS.toNanos(PATIENCE_SECONDS);
      while (System.nanoTime() < deadline && Files.exists(process)) {
        RuntimeInfo now = look(process, Processes.command(process));
        if (now.accessible()) {
          return now.withAccess(RuntimeInfo.OPENED);
        }
        TimeUnit.MILLISECONDS.sleep(50);
      }
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new CaptureException("interrupted", e);
    }
    throw new CaptureException(
        Files.exists(process)
            ? "process "
                + info.pid()
                + " did not open its inspector within "
                + PATIENCE_SECONDS
                + " s: it may handle SIGUSR1 itself, or be too busy"
            : "process " + info.pid() + " ended when it was sent SIGUSR1");
  }

  /** Who listens at a port where a process would, in words; "" if nobody does. */
  private static String ownerOf(int port, Path inNamespaceOf) throws IOException {
    String inode = null;
    for (String[] words : listeners(inNamespaceOf)) {
      inode = port(words) == port ? words[9] : inode;
    }
    if (inode == null) {
      return "";
    }
    for (Path process : Processes.all()) {
      try {
        if (sockets(process).contains(inode)) {
          String command = String.join(" ", Processes.command(process));
          return "process " + Processes.pid(process) + " (" + shortened(command) + ")";
        }
      } catch (IOException e) {
        // another user's, or gone
      }
    }
    return "a process of another user";
  }

  private static String shortened(String command) {
    return command.length() > 100 ? command.substring(0, 100) + "..." : command;
  }
}
