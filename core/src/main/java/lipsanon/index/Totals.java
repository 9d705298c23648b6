package lipsanon.index;

/**
 * Sums over a snapshot.
 *
 * @param objects all objects that it records
 * @param references all references between them, without those to class objects that each instance
 *     has
 * @param shallowBytes of all objects
 * @param retainedObjects that are kept by roots
 * @param retainedBytes shallow sizes of these
 * @param softObjects that only soft references keep
 * @param softBytes shallow sizes of these
 * @param finalizerObjects that only wait for their finalizer
 * @param finalizerBytes shallow sizes of these
 */
public record Totals(
    long objects,
    long references,
    long shallowBytes,
    long retainedObjects,
    long retainedBytes,
    long softObjects,
    long softBytes,
    long finalizerObjects,
    long finalizerBytes) {}
