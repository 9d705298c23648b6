/**
 * V8's inspector: Node.js processes and pages of a browser. {@link lipsanon.capture.v8.NodeTargets}
 * and {@link lipsanon.capture.v8.Inspectors} find them, {@link lipsanon.capture.v8.V8Capture} looks
 * into one.
 */
package lipsanon.capture.v8;
