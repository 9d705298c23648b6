/**
 * What all runtimes have in common when they are captured: records of what runs, options and
 * results. For JVMs use {@link lipsanon.capture.jvm.JvmTargets} and {@link
 * lipsanon.capture.jvm.JvmCapture}.
 */
package lipsanon.capture;
