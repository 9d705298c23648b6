package lipsanon.graph;

/**
 * Types that hold a node.
 *
 * @param frequent as bits of {@link TypeBits}
 * @param rare the others; null if these may be any
 */
record Held(int frequent, int[] rare) {
  boolean isEmpty() {
    return frequent == 0 && rare != null && rare.length == 0;
  }
}
