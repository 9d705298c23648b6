/**
 * Reading snapshot files: random access to their bytes ({@link lipsanon.io.ByteSource}), a window
 * for sequential big-endian values ({@link lipsanon.io.Window}), progress, and the family of errors
 * that bad input leads to ({@link lipsanon.io.InputException}). Nothing here knows a snapshot
 * format.
 */
package lipsanon.io;
