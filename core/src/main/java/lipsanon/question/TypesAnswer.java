package lipsanon.question;

import java.util.List;
import lipsanon.label.SnapshotSummary;

/**
 * Types and their sums.
 *
 * @param snapshot of which snapshot
 * @param types the rows asked for, sorted
 * @param matched how many types passed the filter
 * @param matchedCount how many objects these have
 * @param matchedShallowBytes their shallow sizes
 * @param sortedBy the column
 */
public record TypesAnswer(
    SnapshotSummary snapshot,
    List<TypeRow> types,
    int matched,
    long matchedCount,
    long matchedShallowBytes,
    String sortedBy) {}
