package lipsanon.fleet;

import java.io.Serializable;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;

/**
 * Whence a snapshot is.
 *
 * @param service the program, "unnamed" if nobody said
 * @param build its version, or ""
 * @param host where it ran: a host, a pod, a process
 * @param taken when the snapshot was taken
 */
public record Labels(String service, String build, String host, Instant taken)
    implements Serializable {
  /** The service where nobody named one. */
  static final String UNNAMED = "unnamed";

  /** The day that the snapshot was taken on, in UTC: tables are partitioned by it. */
  public LocalDate day() {
    return LocalDate.ofInstant(taken, ZoneOffset.UTC);
  }
}
