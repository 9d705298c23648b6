package lipsanon.cli.command.setup;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.stream.Stream;
import lipsanon.capture.CaptureException;
import lipsanon.capture.CaptureOptions;
import lipsanon.capture.CaptureProgress;
import lipsanon.capture.CaptureResult;
import lipsanon.capture.DumpingRuntime;
import lipsanon.capture.HeapMeter;
import lipsanon.capture.LiveRuntime;
import lipsanon.change.GrowthAnswer;
import lipsanon.change.ProofAnswer;
import lipsanon.cli.Context;
import lipsanon.cli.ExitCodes;
import lipsanon.cli.UsageException;
import lipsanon.cli.command.GrowthViews;
import lipsanon.cli.command.Questions;
import lipsanon.cli.command.SnapshotCommand;
import lipsanon.cli.command.change.GrowthCommand;
import lipsanon.cli.command.change.ProveCommand;
import lipsanon.cli.command.live.Rehearsal;
import lipsanon.cli.term.Format;
import lipsanon.cli.term.TextRenderer;
import lipsanon.cli.term.View;
import lipsanon.cli.watch.Connections;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;

@Command(
    name = "demo",
    description = "The whole job once, on the shipped Port Merrow service, which leaks.")
public final class DemoCommand extends SnapshotCommand {
  private static final int DAYS = 5;
  private static final int ROUNDS = 3;
  private static final int WARM_UP = 4;

  private static final String OWN_TYPE = "PortMerrow.VesselCall";

  @Option(
      names = "--runtime",
      paramLabel = "KIND",
      defaultValue = "jvm",
      description = "Which Port Merrow program: ${COMPLETION-CANDIDATES} (default: jvm).")
  private DemoStage.Kind kind;

  @Option(
      names = "--dir",
      paramLabel = "DIR",
      description = "Where the snapshots go (default: lipsanon-demo-KIND here).")
  private Path folder;

  private final Questions questions;
  private final List<Integer> actionsBefore = new ArrayList<>();
  private final List<Integer> actionsAfter = new ArrayList<>();

  /** The command. */
  public DemoCommand(Context context, Questions questions) {
    super(context);
    this.questions = questions;
  }

  @Override
  public Integer call() throws Exception {
    if (folder == null) {
      // one for each kind, so that what one demo suggests still works after another
      folder = Path.of("lipsanon-demo-" + kind.name().toLowerCase(Locale.ROOT));
    }
    prepare();
    tell(
        new View()
            .heading("Port Merrow, a harbour office, uses more memory every day. Why?")
            .line(story()));
    GrowthAnswer growth = rehearse(false, folder.resolve("leaky"));
    context.out().println();
    tell(
        new View()
            .heading(
                "Step 3. What grew? (`lipsanon growth "
                    + folder
                    + "/leaky/*"
                    + ending()
                    + " --actions "
                    + list(actionsBefore)
                    + "`)"));
    tell(GrowthViews.view(growth, format()));
    if (kind == DemoStage.Kind.DOTNET) {
      names();
    }
    tell(new View().heading("Step 4. After the fix (" + fix() + ")"));
    GrowthAnswer fixed = rehearse(true, folder.resolve("fixed"));
    context.out().println();
    tell(new View().heading("Step 5. Is it gone? (`lipsanon prove ... --against ...`)"));
    ProofAnswer proof = ProofAnswer.of(growth, fixed);
    View last = ProveCommand.view(proof, format());
    if (!growth.findings().isEmpty()) {
      next(last);
    }
    tell(last);
    return proof.proved() ? ExitCodes.FINE : ExitCodes.CHECK_FAILED;
  }

  /** An event stream does not say which field it is; a dump of the same process does. */
  private void names() {
    tell(
        new View()
            .heading(
                "Which field is it? A dump of the process says (`lipsanon capture PID --dump`)")
            .line("$ lipsanon why " + dump() + " " + OWN_TYPE));
    questions.run(context, List.of("why", dump().toString(), OWN_TYPE, "--limit", "1"));
    context.out().println();
  }

  private Path dump() {
    return folder.resolve("leaky/process.core");
  }

  private void next(View view) {
    boolean confirmed = actionsBefore.size() > ROUNDS;
    String file = folder + "/leaky/" + (confirmed ? ROUNDS + 1 + "-long" : ROUNDS) + ending();
    String before = folder + "/leaky/0-baseline" + ending();
    String mine = kind == DemoStage.Kind.JVM ? "--mine portmerrow" : "--mine=";
    String type =
        switch (kind) {
          case PAGE -> "VesselPanel";
          case DOTNET -> OWN_TYPE;
          default -> "VesselCall";
        };
    view.next("lipsanon survey " + file, "a first look at one snapshot");
    view.next("lipsanon types " + file + " " + mine, "the office's own types");
    view.next("lipsanon keepers " + file, "who keeps most");
    view.next("lipsanon why " + file + " " + type, "why these are alive");
    view.next("lipsanon diff " + before + " " + file, "before and after, by type");
    view.next(
        "lipsanon prove "
            + folder
            + "/leaky/*"
            + ending()
            + " --against "
            + folder
            + "/fixed/*"
            + ending()
            + " --actions-before "
            + list(actionsBefore)
            + " --actions-after "
            + list(actionsAfter),
        "the proof again");
  }

  /** One number where all are the same. */
  private static String list(List<Integer> actions) {
    boolean same = actions.stream().distinct().count() == 1;
    return same
        ? String.valueOf(actions.get(0))
        : String.join(",", actions.stream().map(String::valueOf).toList());
  }

  private String ending() {
    return switch (kind) {
      case JVM -> ".hprof";
      case DOTNET -> ".nettrace";
      case NODE, PAGE -> ".heapsnapshot";
    };
  }

  private String story() {
    return switch (kind) {
      case JVM ->
          "Vessels call, get a berth, subscribe to the tide board, hand in a cargo manifest and"
              + " leave. The service runs in a JVM of its own; a day passes for each request to it.";
      case NODE ->
          "Vessels call, get a berth, subscribe to the tide board, hand in a cargo manifest and"
              + " leave. The service runs in Node.js; a day passes for each request to it.";
      case DOTNET ->
          "Vessels call, subscribe to the tide board, hand in a cargo manifest and leave. The"
              + " service runs on .NET; a day passes for each request to it.";
      case PAGE ->
          "The office's page shows each vessel in a panel of its own, and takes the panel out when"
              + " the vessel leaves. It is open in a headless browser; an action is two clicks.";
    };
  }

  private String fix() {
    return kind == DemoStage.Kind.PAGE
        ? "panels of vessels that left are let go"
        : "vessels that leave are taken off the tide board";
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
    Path files = Files.createDirectories(folder.resolve("program"));
    try (DemoStage stage = DemoStage.start(kind, fixed, files)) {
      if (!fixed) {
        watch(stage);
        tell(
            new View()
                .heading(
                    "Step 2. Rehearse: "
                        + DAYS
                        + " actions between snapshots (`"
                        + stage.command()
                        + "`)"));
      }
      Rehearsal.Plan plan = new Rehearsal.Plan(stage.action(), null, DAYS, ROUNDS, WARM_UP, into);
      Rehearsal rehearsal = new Rehearsal(plan, listener());
      Rehearsal.Taken taken =
          rehearsal.run(
              stage.target(),
              sofar ->
                  !GrowthCommand.ask(this, sofar.files(), sofar.actions()).findings().isEmpty());
      if (!fixed && kind == DemoStage.Kind.DOTNET) {
        dump(stage);
      }
      List<Integer> known = fixed ? actionsAfter : actionsBefore;
      known.addAll(taken.actions());
      return rehearsal.page().addTo(GrowthCommand.ask(this, taken.files(), taken.actions()));
    }
  }

  private void dump(DemoStage stage) throws Exception {
    try (LiveRuntime live = Connections.to(stage.target())) {
      if (live instanceof DumpingRuntime dumping) {
        CaptureResult result =
            dumping.dump(new CaptureOptions(dump(), false, false, false), CaptureProgress.NONE);
        listener().step("dump " + dump() + ", " + format().size(result.fileBytes()));
      }
    }
  }

  /** Step one: it rises even after full collections. */
  private void watch(DemoStage stage) throws Exception {
    List<Long> used = new ArrayList<>();
    try (LiveRuntime live = Connections.to(stage.target());
        HeapMeter meter =
            kind == DemoStage.Kind.DOTNET ? Connections.meter(stage.target()) : null) {
      // the first action of all brings along what it needs once
      for (int day = -1; day < 6; day++) {
        String problem = stage.action().perform(stage.target(), live, 0);
        if (problem != null) {
          throw new CaptureException(problem);
        }
        long heap = meter == null ? collected(live) : collected(meter);
        if (day >= 0) {
          used.add(heap);
        }
      }
    }
    Format format = format();
    tell(
        new View()
            .heading("Step 1. Watch it rise: the heap after a full collection, action by action")
            .line(
                GrowthViews.sparkline(used)
                    + "  "
                    + String.join(" → ", used.stream().map(format::size).toList())));
  }

  private static long collected(LiveRuntime live) throws CaptureException {
    live.collect();
    return live.heapUsed();
  }

  /** Of a runtime that tells with a collection what it left, a moment later. */
  private static long collected(HeapMeter meter) throws CaptureException, InterruptedException {
    long before = meter.read().collections();
    meter.collectOnce();
    for (int i = 0; i < 100 && meter.read().collections() == before; i++) {
      Thread.sleep(20);
    }
    return meter.read().survivedBytes();
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
        step(
            "snapshot "
                + file
                + ", "
                + (result.heapAfterBytes() < 0
                    ? format.size(result.fileBytes())
                    : format.size(result.heapAfterBytes()) + " in use"));
      }

      @Override
      public void beforeSnapshot() {}
    };
  }
}
