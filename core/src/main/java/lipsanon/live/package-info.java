/** What is kept of a live runtime besides snapshots: counts of types, series, recordings. */
package lipsanon.live;
