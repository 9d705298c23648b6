package lipsanon.cli.command;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.stream.Stream;
import lipsanon.analysis.GrowthAnswer;
import lipsanon.analysis.ProofAnswer;
import lipsanon.capture.CaptureException;
import lipsanon.capture.CaptureResult;
import lipsanon.capture.RuntimeInfo;
import lipsanon.capture.Runtimes;
import lipsanon.capture.jvm.JvmCapture;
import lipsanon.cli.Context;
import lipsanon.cli.ExitCodes;
import lipsanon.cli.UsageException;
import lipsanon.cli.term.Format;
import lipsanon.cli.term.TextRenderer;
import lipsanon.cli.term.View;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;

@Command(
    name = "demo",
    description = "The whole job once, on the shipped Port Merrow service, which leaks.")
final class DemoCommand extends SnapshotCommand {
  private static final int DAYS = 7;
  private static final int ROUNDS = 3;

  @Option(
      names = "--dir",
      paramLabel = "DIR",
      defaultValue = "lipsanon-demo",
      description = "Where the snapshots go (default: lipsanon-demo here).")
  private Path folder;

  DemoCommand(Context context) {
    super(context);
  }

  @Override
  public Integer call() throws Exception {
    prepare();
    tell(
        new View()
            .heading("Port Merrow, a harbour office, uses more memory every day. Why?")
            .line(
                "Vessels call, get a berth, subscribe to the tide board, hand in a cargo manifest"
                    + " and leave. The service runs in a JVM of its own; a day passes for each"
                    + " request to it."));
    GrowthAnswer growth = rehearse(false, folder.resolve("leaky"));
    tell(
        new View()
            .heading(
                "Step 3. What grew? (`lipsanon growth "
                    + folder
                    + "/leaky/*.hprof --actions "
                    + DAYS
                    + "`)"));
    tell(GrowthViews.view(growth, format()));
    tell(
        new View()
            .heading("Step 4. After the fix (vessels that leave are taken off the tide board)"));
    GrowthAnswer fixed = rehearse(true, folder.resolve("fixed"));
    context.out().println();
    tell(new View().heading("Step 5. Is it gone? (`lipsanon prove ... --against ...`)"));
    ProofAnswer proof = ProofAnswer.of(growth, fixed);
    View last = ProveCommand.view(proof, format());
    if (!growth.findings().isEmpty()) {
      String file = folder + "/leaky/" + ROUNDS + ".hprof";
      last.next("lipsanon survey " + file, "a first look at one snapshot");
      last.next("lipsanon types " + file + " --mine portmerrow", "the office's own types");
      last.next("lipsanon keepers " + file, "who keeps most");
      last.next("lipsanon why " + file + " VesselCall", "why vessel calls are alive");
      last.next(
          "lipsanon diff " + folder + "/leaky/0-baseline.hprof " + file,
          "before and after, by type");
      last.next(
          "lipsanon prove "
              + folder
              + "/leaky/*.hprof --against "
              + folder
              + "/fixed/*.hprof --actions "
              + DAYS,
          "the proof again");
    }
    tell(last);
    return proof.proved() ? ExitCodes.FINE : ExitCodes.CHECK_FAILED;
  }

  private void tell(View view) {
    new TextRenderer(context.out(), context.terminal()).render(view);
    context.out().println();
    context.out().flush();
  }

  /** A folder that an earlier demo left is made anew; any other is refused. */
  private void prepare() throws IOException {
    Path mark = folder.resolve(".lipsanon-demo");
    if (Files.exists(folder)) {
      if (!Files.exists(mark)) {
        throw new UsageException(
            folder + " is there and is not of a demo; give another with --dir");
      }
      try (Stream<Path> files = Files.walk(folder)) {
        for (Path file : files.sorted(Comparator.reverseOrder()).toList()) {
          Files.delete(file);
        }
      }
    }
    Files.createDirectories(folder.resolve("leaky"));
    Files.createDirectories(folder.resolve("fixed"));
    Files.createFile(mark);
  }

  private GrowthAnswer rehearse(boolean fixed, Path into) throws Exception {
    Process office = start(fixed);
    Thread hook = new Thread(office::destroy);
    Runtime.getRuntime().addShutdownHook(hook);
    try {
      BufferedReader out =
          new BufferedReader(
              new InputStreamReader(office.getInputStream(), StandardCharsets.UTF_8));
      String line = out.readLine();
      if (line == null || !line.contains("http://")) {
        throw new CaptureException("the Port Merrow service did not start: " + line);
      }
      String url = line.substring(line.indexOf("http://")).trim() + "day";
      if (!fixed) {
        watch(office.pid(), url);
        tell(
            new View()
                .heading(
                    "Step 2. Rehearse: "
                        + DAYS
                        + " days between snapshots (`lipsanon rehearse PortMerrow --get "
                        + url
                        + "`)"));
      }
      Rehearsal.Plan plan = new Rehearsal.Plan(Actions.get(url), url, DAYS, ROUNDS, 4, into);
      RuntimeInfo target = Runtimes.find(Long.toString(office.pid()), null, false);
      List<Path> files = new Rehearsal(plan, listener()).run(target);
      return GrowthCommand.ask(this, files, DAYS);
    } finally {
      office.destroy();
      Runtime.getRuntime().removeShutdownHook(hook);
    }
  }

  private static Process start(boolean fixed) throws IOException {
    List<String> command = new ArrayList<>();
    command.add(Path.of(System.getProperty("java.home"), "bin/java").toString());
    command.addAll(
        List.of("-Xmx256m", "-XX:+UseSerialGC", "-cp", System.getProperty("java.class.path")));
    command.add("portmerrow.PortMerrow");
    if (fixed) {
      command.add("--fixed");
    }
    return new ProcessBuilder(command).redirectError(ProcessBuilder.Redirect.DISCARD).start();
  }

  /** Step one: it rises even after full collections. */
  private void watch(long pid, String url) throws Exception {
    List<Long> used = new ArrayList<>();
    try (JvmCapture capture = JvmCapture.connect(pid)) {
      for (int day = 0; day < 6; day++) {
        try (var in = java.net.URI.create(url).toURL().openStream()) {
          in.readAllBytes();
        }
        capture.collect();
        used.add(capture.heapUsed());
      }
    }
    Format format = format();
    tell(
        new View()
            .heading("Step 1. Watch it rise: the heap after a full collection, day by day")
            .line(
                GrowthViews.sparkline(used)
                    + "  "
                    + String.join(" → ", used.stream().map(format::size).toList())));
  }

  private Rehearsal.Listener listener() {
    Format format = format();
    return new Rehearsal.Listener() {
      @Override
      public void step(String text) {
        context.out().println("  " + text);
        context.out().flush();
      }

      @Override
      public void taken(Path file, CaptureResult result) {
        step("snapshot " + file + ", " + format.size(result.heapAfterBytes()) + " in use");
      }

      @Override
      public void beforeSnapshot() {}
    };
  }
}
