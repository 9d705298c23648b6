/** Finding live runtimes and taking snapshots of them. Knows nothing of analysis. */
module lipsanon.capture {
  requires lipsanon.scripts;
  requires com.fasterxml.jackson.databind;
  requires java.net.http;
  requires java.management;
  requires java.management.rmi;
  requires java.rmi;

  exports lipsanon.capture;
  exports lipsanon.capture.jvm;
  exports lipsanon.capture.dotnet;
  exports lipsanon.capture.v8;
}
