package lipsanon.question;

import java.util.List;
import lipsanon.holder.Finding;
import lipsanon.index.ObjectReader;
import lipsanon.index.SnapshotFacts;
import lipsanon.index.Totals;
import lipsanon.label.ObjectRow;
import lipsanon.label.SnapshotSummary;

/**
 * A first look.
 *
 * @param snapshot of which snapshot
 * @param format the format with its version
 * @param totals sums
 * @param unretainedObjects objects that nothing keeps
 * @param unretainedBytes their shallow sizes
 * @param layout how the runtime lays out objects
 * @param estimatedTypes types whose sizes rest on thin evidence
 * @param warnings what the user should know of the file
 * @param danglingReferences references to objects that the snapshot does not hold
 * @param findings places that look wrong, the most suspicious first
 * @param keepers the objects that retain most
 * @param types the user's own types that retain most
 * @param libraryTypes the runtime's types with most shallow bytes
 * @param roots roots by kind
 * @param areas the parts of the heap, where the runtime divides it and the snapshot tells
 * @param freeSizes free blocks between objects by size, where the snapshot tells
 * @param stackOnlyObjects objects that only words on threads' stacks keep, which may be left over
 * @param stackOnlyBytes their shallow sizes
 */
public record SurveyAnswer(
    SnapshotSummary snapshot,
    String format,
    Totals totals,
    long unretainedObjects,
    long unretainedBytes,
    SnapshotFacts.Layout layout,
    List<String> estimatedTypes,
    List<String> warnings,
    long danglingReferences,
    List<Finding> findings,
    List<ObjectRow> keepers,
    List<TypeRow> types,
    List<TypeRow> libraryTypes,
    List<RootKind> roots,
    List<HeapArea> areas,
    List<ObjectReader.FreeSize> freeSizes,
    long stackOnlyObjects,
    long stackOnlyBytes) {

  /**
   * Roots of a kind.
   *
   * @param kind in words
   * @param count how many
   */
  public record RootKind(String kind, long count) {}
}
