package lipsanon.cli.command.share;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import lipsanon.cli.Context;
import lipsanon.cli.ExitCodes;
import lipsanon.cli.UsageException;
import lipsanon.cli.command.SnapshotCommand;
import lipsanon.cli.page.PageData;
import lipsanon.cli.page.PageFile;
import lipsanon.cli.term.View;
import lipsanon.index.Snapshot;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** One page that somebody understands who was not there. */
@Command(
    name = "report",
    description =
        "One self-contained HTML page of a snapshot, a series, a rehearsal, a recording, a watched"
            + " heap or a fleet's tables: to read, look at and share.")
public final class ReportCommand extends SnapshotCommand {
  @Parameters(
      arity = "1..*",
      paramLabel = "FILE",
      description =
          "Snapshots, recordings and series that belong together, or a folder of them (as rehearse"
              + " leaves it).")
  private List<Path> files;

  @Option(
      names = {"-o", "--output"},
      paramLabel = "FILE",
      description = "Where the page goes (default: NAME-report.html here).")
  private Path output;

  @Option(names = "--force", description = "Overwrite a file that is there.")
  private boolean force;

  @Option(names = "--title", paramLabel = "TEXT", description = "The page's title.")
  private String title;

  @Option(
      names = "--actions",
      paramLabel = "N[,N...]",
      hideParamSyntax = true,
      split = ",",
      description = "As for growth: the action was done N times between each two snapshots.")
  private List<Integer> actions = List.of();

  @Option(
      names = "--serve",
      description =
          "Serve the page on the loopback until stopped: every object of it can be asked about.")
  private boolean serve;

  @Option(
      names = "--port",
      paramLabel = "PORT",
      description = "With --serve: the port (default: a free one).")
  private int port;

  /** The answer. */
  record Reported(String file, long bytes, String verdict, List<String> sources) {}

  /** The command. */
  public ReportCommand(Context context) {
    super(context);
  }

  @Override
  public Integer call() throws Exception {
    if (serve && output != null) {
      throw new UsageException("give --output or --serve, not both");
    }
    Path target = output != null ? output : Path.of(name() + "-report.html");
    if (!serve) {
      ExportTarget.check(target, force);
    }
    ReportBuilder builder = new ReportBuilder(this, actions);
    builder.add(files);
    Snapshot[] opened = new Snapshot[1];
    PageData data = builder.build(title == null ? "Memory of " + whole() : title, serve, opened);
    if (serve) {
      try (Snapshot snapshot = opened[0]) {
        if (snapshot == null) {
          throw new UsageException("--serve is for snapshots; there is none among the files");
        }
        return new ReportServer(context, format(), snapshot, data, port).run();
      }
    }
    try (ExportTarget file = ExportTarget.open(target)) {
      PageFile.write(file.writer(), data);
      file.finish();
    }
    List<String> sources = new ArrayList<>();
    data.made().files().forEach(source -> sources.add(source.file()));
    Reported reported = new Reported(target.toString(), Files.size(target), verdict(data), sources);
    print("report", reported, () -> view(reported));
    return ExitCodes.FINE;
  }

  /** What the page is of, in a few words. */
  private String whole() {
    String last = name(files.get(files.size() - 1));
    return files.size() == 1 || last.equals(name()) ? name() : name() + " to " + last;
  }

  private String name() {
    return name(files.get(0));
  }

  private static String name(Path file) {
    Path first = file.toAbsolutePath().normalize();
    String text = first.getFileName() == null ? "heap" : first.getFileName().toString();
    return text.replaceAll("\\.(hprof|hprof\\.gz|heapsnapshot|nettrace|core|jfr|jsonl)$", "");
  }

  private static String verdict(PageData data) {
    if (data.growth() != null) {
      return data.growth().sentence();
    }
    if (data.survey() != null && !data.survey().findings().isEmpty()) {
      return data.survey().findings().get(0).sentence();
    }
    for (PageData.Fleet one : data.fleets()) {
      return one.answer().sentence();
    }
    for (PageData.Watched one : data.watched()) {
      return one.sentence();
    }
    for (PageData.Origins one : data.origins()) {
      return one.sentence();
    }
    return "Nothing looks wrong by itself.";
  }

  private View view(Reported reported) {
    return new View()
        .line(reported.verdict())
        .line(
            "Wrote "
                + reported.file()
                + ", "
                + format().size(reported.bytes())
                + ": open it in any browser, or send it; it loads nothing from anywhere. It holds"
                + " names of types and fields and short texts of the heap: look at it before you"
                + " pass it on.");
  }
}
