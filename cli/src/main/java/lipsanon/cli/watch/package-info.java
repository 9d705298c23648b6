/**
 * Watching the heap of a live runtime: the model, the screen, and lines for where there is none.
 */
package lipsanon.cli.watch;
