package lipsanon.label;

import java.time.Instant;
import lipsanon.index.Snapshot;

/**
 * What every answer says of its snapshot.
 *
 * @param file the name as it was given
 * @param runtime the kind of runtime
 * @param capturedAt ISO 8601, or null if the file does not say
 * @param objects count of objects, those that nothing keeps included
 * @param retainedObjects count of those that are kept
 * @param shallowBytes their shallow sizes
 * @param retainedBytes shallow sizes of the retained objects: what shares refer to
 * @param partial whether a part of the snapshot is missing
 */
public record SnapshotSummary(
    String file,
    String runtime,
    String capturedAt,
    long objects,
    long retainedObjects,
    long shallowBytes,
    long retainedBytes,
    boolean partial) {

  /** Of an open snapshot. */
  public static SnapshotSummary of(Snapshot snapshot) {
    long millis = snapshot.facts().capturedAtMillis();
    return new SnapshotSummary(
        snapshot.file().toString(),
        snapshot.facts().runtime(),
        millis <= 0 ? null : Instant.ofEpochMilli(millis).toString(),
        snapshot.totals().objects(),
        snapshot.totals().retainedObjects(),
        snapshot.totals().shallowBytes(),
        snapshot.totals().retainedBytes(),
        snapshot.facts().partial());
  }
}
