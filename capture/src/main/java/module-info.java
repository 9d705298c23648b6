/** Finding live runtimes and taking snapshots of them. Knows nothing of analysis. */
module lipsanon.capture {
  requires jdk.attach;
  requires java.management;
  requires jdk.management;

  exports lipsanon.capture;
  exports lipsanon.capture.jvm;
}
