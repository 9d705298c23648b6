package lipsanon.analysis;

import java.util.List;

/**
 * Objects that match a selection.
 *
 * @param snapshot of which snapshot
 * @param selection in words
 * @param count how many match
 * @param shallowBytes their own sizes
 * @param skipped how many rows come before the first one shown
 * @param objects a page of them, the largest first
 */
public record SiftAnswer(
    SnapshotSummary snapshot,
    String selection,
    long count,
    long shallowBytes,
    long skipped,
    List<ObjectRow> objects) {}
