package lipsanon.question;

/**
 * A type in a table.
 *
 * @param type its name
 * @param loader its class loader where several types have the name, else ""
 * @param own whether it is the user's own
 * @param count its objects
 * @param shallowBytes of these
 * @param retainedBytes what they retain together
 * @param retainedExact whether that figure is exact; else it is a lower bound
 * @param share of the heap that the retained figure is, 0 to 1
 */
public record TypeRow(
    String type,
    String loader,
    boolean own,
    long count,
    long shallowBytes,
    long retainedBytes,
    boolean retainedExact,
    double share) {}
