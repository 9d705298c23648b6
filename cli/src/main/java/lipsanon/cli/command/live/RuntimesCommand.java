package lipsanon.cli.command.live;

import java.util.ArrayList;
import java.util.List;
import lipsanon.capture.CaptureException;
import lipsanon.capture.HeapMeter;
import lipsanon.capture.RuntimeInfo;
import lipsanon.capture.Runtimes;
import lipsanon.cli.Context;
import lipsanon.cli.ExitCodes;
import lipsanon.cli.command.Answering;
import lipsanon.cli.term.Format;
import lipsanon.cli.term.Table;
import lipsanon.cli.term.View;
import lipsanon.cli.watch.Connections;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;

@Command(
    name = "runtimes",
    description = "Which managed processes run here that could be looked into?")
public final class RuntimesCommand extends Answering {
  /** The answer. */
  record Found(List<RuntimeInfo> runtimes) {}

  @Option(
      names = "--at",
      paramLabel = "HOST:PORT",
      description = "List what is behind this debugging port: a browser's pages and workers.")
  private String at;

  /** The command. */
  public RuntimesCommand(Context context) {
    super(context);
  }

  @Override
  public Integer call() throws Exception {
    List<RuntimeInfo> runtimes = withHeaps(Runtimes.list(at));
    Found answer =
        new Found(runtimes.stream().map(one -> one.withProgram(Names.program(one, this))).toList());
    print("runtimes", answer, () -> view(runtimes));
    return ExitCodes.FINE;
  }

  /** .NET processes tell of their heaps within a second of being listened to: all at once. */
  private static List<RuntimeInfo> withHeaps(List<RuntimeInfo> runtimes)
      throws InterruptedException {
    RuntimeInfo[] all = runtimes.toArray(RuntimeInfo[]::new);
    List<Thread> asking = new ArrayList<>();
    for (int i = 0; i < all.length; i++) {
      int at = i;
      if (all[i].kind().equals(RuntimeInfo.DOTNET) && all[i].accessible()) {
        Thread one = new Thread(() -> all[at] = withHeap(all[at]), "lipsanon-heap");
        one.start();
        asking.add(one);
      }
    }
    for (Thread one : asking) {
      one.join();
    }
    return List.of(all);
  }

  private static RuntimeInfo withHeap(RuntimeInfo info) {
    try (HeapMeter meter = Connections.meter(info)) {
      return info.withHeapUsed(meter.read().usedBytes());
    } catch (CaptureException e) {
      // it has ended, or tells nothing: listed all the same
      return info;
    }
  }

  private View view(List<RuntimeInfo> runtimes) {
    Format format = format();
    View view = new View();
    if (runtimes.isEmpty()) {
      return view.line(
          at == null
              ? "No JVM (but this program), no Node.js and no .NET process runs on this machine."
              : "No page, worker or process is open at " + at + ".");
    }
    String where = at == null ? "on this machine" : "at " + at;
    view.heading(
        runtimes.size() == 1 ? "1 runtime " + where : runtimes.size() + " runtimes " + where);
    Table table =
        new Table()
            .text("id")
            .text("kind")
            .text("version")
            .longText("program")
            .number("up")
            .number("heap used")
            .number("heap max")
            .text("accessible");
    for (RuntimeInfo info : runtimes) {
      table.row(
          info.id(),
          info.kind(),
          info.version(),
          Names.program(info, this),
          info.uptimeMillis() < 0 ? "?" : Format.duration(info.uptimeMillis()),
          size(format, info.heapUsedBytes()),
          size(format, info.heapMaxBytes()),
          info.access());
    }
    view.table(table);
    for (RuntimeInfo info : runtimes) {
      if (info.accessible()) {
        view.next(
            "lipsanon watch " + info.id() + (at == null ? "" : " --at " + at),
            "is its memory rising, and which types?");
        view.next(
            "lipsanon capture " + info.id() + (at == null ? "" : " --at " + at),
            "take a snapshot of " + Names.program(info, this));
        break;
      }
      if (info.access().equals(RuntimeInfo.CLOSED)) {
        view.next(
            "lipsanon capture " + info.id() + " --open",
            "take a snapshot; this opens a debug port of the process on the loopback");
        break;
      }
    }
    return view;
  }

  private static Object size(Format format, long bytes) {
    return bytes < 0 ? "?" : format.cell(bytes);
  }
}
