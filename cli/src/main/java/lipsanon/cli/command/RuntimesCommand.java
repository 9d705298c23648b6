package lipsanon.cli.command;

import java.util.List;
import lipsanon.capture.RuntimeInfo;
import lipsanon.capture.jvm.JvmTargets;
import lipsanon.cli.Context;
import lipsanon.cli.ExitCodes;
import lipsanon.cli.term.Format;
import lipsanon.cli.term.Table;
import lipsanon.cli.term.View;
import picocli.CommandLine.Command;

@Command(
    name = "runtimes",
    description = "Which managed processes run here that could be looked into?")
final class RuntimesCommand extends Answering {
  /** The answer. */
  record Runtimes(List<RuntimeInfo> runtimes) {}

  RuntimesCommand(Context context) {
    super(context);
  }

  @Override
  public Integer call() throws Exception {
    List<RuntimeInfo> runtimes = JvmTargets.list();
    print("runtimes", new Runtimes(runtimes), () -> view(runtimes));
    return ExitCodes.FINE;
  }

  private View view(List<RuntimeInfo> runtimes) {
    Format format = format();
    View view = new View();
    if (runtimes.isEmpty()) {
      return view.line("No JVM runs on this machine (but this one).");
    }
    view.heading(
        runtimes.size() == 1
            ? "1 runtime on this machine"
            : runtimes.size() + " runtimes on this machine");
    Table table =
        new Table()
            .number("pid")
            .text("kind")
            .text("version")
            .longText("program")
            .number("up")
            .number("heap used")
            .number("heap max")
            .text("accessible");
    for (RuntimeInfo info : runtimes) {
      table.row(
          new Table.Cell(Long.toString(info.pid()), Long.toString(info.pid())),
          info.kind(),
          info.version(),
          info.program(),
          Format.duration(info.uptimeMillis()),
          size(format, info.heapUsedBytes()),
          size(format, info.heapMaxBytes()),
          info.access());
    }
    view.table(table);
    for (RuntimeInfo info : runtimes) {
      if (info.accessible()) {
        view.next("lipsanon capture " + info.pid(), "take a snapshot of " + info.program());
        break;
      }
    }
    return view;
  }

  private static Object size(Format format, long bytes) {
    return bytes < 0 ? "?" : format.cell(bytes);
  }
}
