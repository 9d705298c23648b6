/**
 * Primitive sequences for graphs of up to two billion objects. Use {@link lipsanon.array.Space} to
 * get arrays that live on the heap or in scratch files, {@link lipsanon.array.IntList} for a short
 * growing list, {@link lipsanon.array.IntPages} or {@link lipsanon.array.IntPairList} for a long
 * one.
 */
package lipsanon.array;
