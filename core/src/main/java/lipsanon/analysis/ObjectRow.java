package lipsanon.analysis;

/**
 * An object in a table.
 *
 * @param id its identifier
 * @param type its type
 * @param loader the class loader of its type where several have a type of that name, or ""
 * @param label what tells it from others of its type, or ""
 * @param shallowBytes its shallow size
 * @param retainedBytes its retained size
 * @param share of the heap that it retains, 0 to 1
 * @param heldBy what holds it, in words
 */
public record ObjectRow(
    String id,
    String type,
    String loader,
    String label,
    long shallowBytes,
    long retainedBytes,
    double share,
    String heldBy) {}
