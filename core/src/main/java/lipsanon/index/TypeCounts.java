package lipsanon.index;

/**
 * Sums over the objects of a type.
 *
 * @param count all its objects
 * @param unretained those that nothing keeps
 * @param shallowBytes of all
 * @param retainedAtLeastBytes a lower bound of what they retain together: the sum over those that
 *     no other object of the type dominates
 */
public record TypeCounts(
    long count, long unretained, long shallowBytes, long retainedAtLeastBytes) {}
