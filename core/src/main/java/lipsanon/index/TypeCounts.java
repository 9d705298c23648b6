package lipsanon.index;

/**
 * Sums over the objects of a type.
 *
 * @param count all its objects
 * @param unretained those that nothing keeps
 * @param shallowBytes of all
 * @param retainedBytes what they retain together, exactly
 */
public record TypeCounts(long count, long unretained, long shallowBytes, long retainedBytes) {}
