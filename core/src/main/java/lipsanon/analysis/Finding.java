package lipsanon.analysis;

import java.util.List;

/**
 * Something that piles up.
 *
 * @param what the type that piles up
 * @param heldBy the field, variable or thread of the user's own that holds it
 * @param container the type of the collection that it piles up in, or "" if it is chained
 * @param containerId identifier of that collection in the last snapshot, or ""
 * @param root how the root is called
 * @param countPerAction new objects an action, or 0 where actions are not known
 * @param bytesPerAction new bytes an action, or 0
 * @param counts how many there were in each snapshot
 * @param bytes what they retained in each snapshot
 * @param confidence 0 to 1
 * @param reasons why, in words
 * @param sentence the finding in one sentence
 * @param steps the path from the root to the place
 */
public record Finding(
    String what,
    String heldBy,
    String container,
    String containerId,
    String root,
    double countPerAction,
    double bytesPerAction,
    List<Long> counts,
    List<Long> bytes,
    double confidence,
    List<String> reasons,
    String sentence,
    List<Step> steps) {}
