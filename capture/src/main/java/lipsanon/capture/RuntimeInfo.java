package lipsanon.capture;

/**
 * A managed process on this machine.
 *
 * @param pid its process id
 * @param kind of runtime, for example {@code JVM}
 * @param version of the runtime, or "" if unknown
 * @param program main class, jar or script
 * @param uptimeMillis since its start, or -1
 * @param heapUsedBytes in use now, garbage included, or -1
 * @param heapMaxBytes the most that it may grow to, or -1
 * @param access {@code yes}, or why it cannot be looked into
 */
public record RuntimeInfo(
    long pid,
    String kind,
    String version,
    String program,
    long uptimeMillis,
    long heapUsedBytes,
    long heapMaxBytes,
    String access) {
  /** Whether it can be looked into. */
  public boolean accessible() {
    return access.equals("yes");
  }
}
