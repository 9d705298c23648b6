package lipsanon.index;

/**
 * A type of a snapshot.
 *
 * @param name as the runtime's users write it
 * @param loader what tells types of the same name apart (a class loader in words), or ""
 * @param classNode the node of its class object, or -1
 * @param array whether its objects are arrays
 * @param library whether it belongs to the runtime or its standard library
 * @param observer whether its objects are of no interest to the program: the machinery through
 *     which the runtime is observed (a capture leaves some behind), compiled code and the like
 * @param passage whether its objects are only the way to what they hold: entries, links and tables
 *     of collections
 * @param plain whether it says nothing of what an object is for: one plain object in another is no
 *     link of a chain
 */
public record TypeInfo(
    String name,
    String loader,
    int classNode,
    boolean array,
    boolean library,
    boolean observer,
    boolean passage,
    boolean plain) {}
