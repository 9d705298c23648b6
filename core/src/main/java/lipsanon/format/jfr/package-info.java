/** Recordings of the Java VM's own event recorder, as far as they tell of allocations and heaps. */
package lipsanon.format.jfr;
