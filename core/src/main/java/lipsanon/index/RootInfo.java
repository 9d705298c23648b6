package lipsanon.index;

/**
 * A root.
 *
 * @param node the object
 * @param kind in words: {@code thread}, {@code local variable}, {@code JNI global}, ...
 * @param detail what else is known (the method of a local variable), or ""
 * @param thread for a local variable whose thread is known: the thread's node, from which the edge
 *     runs; else -1
 */
public record RootInfo(int node, String kind, String detail, int thread) {}
