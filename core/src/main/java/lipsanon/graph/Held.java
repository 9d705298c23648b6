package lipsanon.graph;

/**
 * Types that hold a node.
 *
 * @param frequent as bits of {@link TypeBits}
 * @param rare the others; null if these may be any
 */
record Held(int frequent, int[] rare) {}
