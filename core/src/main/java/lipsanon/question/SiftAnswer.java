package lipsanon.question;

import java.util.List;
import lipsanon.label.ObjectRow;
import lipsanon.label.SnapshotSummary;

/**
 * Objects that match a selection.
 *
 * @param snapshot of which snapshot
 * @param selection in words
 * @param count how many match
 * @param shallowBytes their own sizes
 * @param retainedBytes what they retain together, exactly: freed if all of them went
 * @param retainedCount how many objects that are, their own retained ones included; -1 where that
 *     was not counted, in large heaps
 * @param unretained how many of those that match nothing keeps
 * @param partial whether the search was stopped, so that these are only what was found until then
 * @param skipped how many rows come before the first one shown
 * @param objects a page of them
 */
public record SiftAnswer(
    SnapshotSummary snapshot,
    String selection,
    long count,
    long shallowBytes,
    long retainedBytes,
    long retainedCount,
    long unretained,
    boolean partial,
    long skipped,
    List<ObjectRow> objects) {}
