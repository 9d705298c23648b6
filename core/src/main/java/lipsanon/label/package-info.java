/**
 * How objects, references, holders, roots and paths are said in words, and what is the user's own.
 * {@link lipsanon.label.Labels} names single objects, {@link lipsanon.label.NearestPaths} says how
 * they are reached.
 */
package lipsanon.label;
