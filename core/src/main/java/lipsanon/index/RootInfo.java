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
public record RootInfo(int node, String kind, String detail, int thread) {
  /** The kind of variables that last as long as the program, where they are roots themselves. */
  public static final String STATIC = "static variable";

  /** Whether it is a variable that somebody has named. */
  public boolean named() {
    return kind.equals(STATIC) && !detail.isEmpty();
  }
}
