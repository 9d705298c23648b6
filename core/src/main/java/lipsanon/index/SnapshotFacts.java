package lipsanon.index;

import java.util.List;

/**
 * What is known of a snapshot as a whole.
 *
 * @param runtime the kind of runtime, for example {@code JVM}
 * @param version the format with its version
 * @param capturedAtMillis when it was taken, milliseconds since 1970, or 0
 * @param layout how the runtime lays out objects
 * @param estimatedTypes types whose sizes rest on thin evidence
 * @param warnings what the user should know about the file, in sentences
 * @param partial whether a part of the snapshot is missing
 * @param danglingReferences references to objects that the snapshot does not hold
 * @param duplicateObjects records whose identifier an earlier one had
 * @param unknownRecords records of kinds that the format does not know, passed over
 */
public record SnapshotFacts(
    String runtime,
    String version,
    long capturedAtMillis,
    Layout layout,
    List<String> estimatedTypes,
    List<String> warnings,
    boolean partial,
    long danglingReferences,
    long duplicateObjects,
    long unknownRecords) {

  /**
   * An object layout; all in bytes, 0 where it means nothing.
   *
   * @param objectHeaderBytes before the first field
   * @param arrayHeaderBytes before the first element
   * @param referenceBytes of a reference
   * @param alignmentBytes objects begin at multiples of this
   */
  public record Layout(
      int objectHeaderBytes, int arrayHeaderBytes, int referenceBytes, int alignmentBytes) {}
}
