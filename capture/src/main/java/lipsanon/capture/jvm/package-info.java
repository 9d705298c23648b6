/**
 * Live JVMs: found by their processes, read through the performance data file, captured by
 * attaching.
 */
package lipsanon.capture.jvm;
