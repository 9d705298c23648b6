/** The command line: commands, terminal rendering, the launcher's main class. */
module lipsanon.cli {
  requires lipsanon.core;
  requires lipsanon.capture;
  requires lipsanon.sql;
  requires lipsanon.fleet;
  requires info.picocli;
  requires com.fasterxml.jackson.core;
  requires de.siegmar.fastcsv;
  requires me.tongfei.progressbar;
  requires java.management;
  requires java.desktop;
  requires java.net.http;
  requires jdk.httpserver;
  requires com.github.vlsi.mxgraph.jgraphx;
  requires org.jline.reader;
  requires org.jline.terminal;
  requires jdk.management;
  requires org.snakeyaml.engine.v2;
  requires java.xml;

  uses lipsanon.question.TableFiles;

  opens lipsanon.cli to
      info.picocli;
  opens lipsanon.cli.command to
      info.picocli;
  opens lipsanon.cli.command.look to
      info.picocli;
  opens lipsanon.cli.command.change to
      info.picocli;
  opens lipsanon.cli.command.live to
      info.picocli;
  opens lipsanon.cli.command.share to
      info.picocli;
  opens lipsanon.cli.command.check to
      info.picocli;
  opens lipsanon.cli.command.fleet to
      info.picocli;
  opens lipsanon.cli.command.setup to
      info.picocli;
}
