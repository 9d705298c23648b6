package lipsanon.label;

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
 * @param depth references on the shortest path from a root, 0 if nothing keeps it
 * @param strength of what keeps it
 * @param closed whether it says of itself that it is closed or disposed of
 */
public record ObjectRow(
    String id,
    String type,
    String loader,
    String label,
    long shallowBytes,
    long retainedBytes,
    double share,
    String heldBy,
    int depth,
    String strength,
    boolean closed) {}
