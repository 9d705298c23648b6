package lipsanon.capture;

/**
 * A managed process, or a page or worker of a browser.
 *
 * @param id by which users name it: a process id, or a browser's identifier of a page
 * @param pid its process id, or -1 if it is not known
 * @param kind of runtime, for example {@code JVM}
 * @param version of the runtime, or "" if unknown
 * @param program main class, jar, script, or address of a page
 * @param uptimeMillis since its start, or -1
 * @param heapUsedBytes in use now, garbage included, or -1
 * @param heapMaxBytes the most that it may grow to, or -1
 * @param access {@code yes}, or why it cannot be looked into
 * @param address where its inspector answers (a WebSocket address), or ""
 */
public record RuntimeInfo(
    String id,
    long pid,
    String kind,
    String version,
    String program,
    long uptimeMillis,
    long heapUsedBytes,
    long heapMaxBytes,
    String access,
    String address) {
  /** The kind of Java virtual machines. */
  public static final String JVM = "JVM";

  /** The kind of Node.js processes. */
  public static final String NODE = "Node.js";

  /** The kind of .NET processes. */
  public static final String DOTNET = ".NET";

  /** What {@link #access} says of a process whose inspector is closed. */
  public static final String CLOSED = "inspector closed";

  /** What {@link #access} says of a process whose inspector listens and does not answer. */
  public static final String SILENT = "not answering (stopped or busy?)";

  /**
   * What {@link #access} says of a process whose inspector was opened for us, and is closed after.
   */
  public static final String OPENED = "opened for this capture";

  /** Whether it can be looked into. */
  public boolean accessible() {
    return access.equals("yes") || access.equals(OPENED);
  }

  /** The same with another access. */
  public RuntimeInfo withAccess(String other) {
    return new RuntimeInfo(
        id, pid, kind, version, program, uptimeMillis, heapUsedBytes, heapMaxBytes, other, address);
  }

  /** The same with what its heap has in use. */
  public RuntimeInfo withHeapUsed(long bytes) {
    return new RuntimeInfo(
        id, pid, kind, version, program, uptimeMillis, bytes, heapMaxBytes, access, address);
  }

  /** The same, called otherwise. */
  public RuntimeInfo withProgram(String other) {
    return new RuntimeInfo(
        id, pid, kind, version, other, uptimeMillis, heapUsedBytes, heapMaxBytes, access, address);
  }

  /** How the names of its snapshots end, without the dot. */
  public String extension() {
    return kind.equals(JVM) ? "hprof" : kind.equals(DOTNET) ? "nettrace" : "heapsnapshot";
  }
}
