/** The command line: commands, terminal rendering, the launcher's main class. */
module lipsanon.cli {
  requires lipsanon.core;
  requires lipsanon.capture;
  requires info.picocli;
  requires com.fasterxml.jackson.core;
  requires org.apache.commons.csv;
  requires me.tongfei.progressbar;
  requires java.management;
  requires java.net.http;
  requires jdk.management;

  opens lipsanon.cli.command to
      info.picocli;
}
