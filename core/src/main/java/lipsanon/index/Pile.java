package lipsanon.index;

/**
 * Very many objects of one type below one that retains much: noted when the index is built, since
 * to find them later would mean to look at every object again.
 *
 * @param holder the node that dominates them immediately
 * @param type their type
 * @param count how many
 * @param bytes what they retain together
 * @param example one of them
 */
public record Pile(int holder, int type, long count, long bytes, int example) {}
