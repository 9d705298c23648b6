package lipsanon.cli.command.live;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.net.ServerSocket;
import java.nio.charset.Charset;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDateTime;
import java.time.format.DateTimeFormatter;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;
import lipsanon.capture.CaptureException;
import lipsanon.capture.CaptureResult;
import lipsanon.capture.RuntimeInfo;
import lipsanon.capture.Runtimes;
import lipsanon.capture.v8.V8Capture;
import lipsanon.change.FlightVerdict;
import lipsanon.change.GrowthAnswer;
import lipsanon.cli.Context;
import lipsanon.cli.ExitCodes;
import lipsanon.cli.UsageException;
import lipsanon.cli.command.FlightViews;
import lipsanon.cli.command.GrowthViews;
import lipsanon.cli.command.SnapshotCommand;
import lipsanon.cli.command.change.GrowthCommand;
import lipsanon.cli.term.Format;
import lipsanon.snapshot.Snapshots;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

@Command(
    name = "rehearse",
    description = "Do an action N times between snapshots, and tell what stayed behind each time.")
public final class RehearseCommand extends SnapshotCommand {
  private static final long PATIENCE_SECONDS = 60;

  @Parameters(
      index = "0",
      arity = "0..1",
      paramLabel = "TARGET",
      description = "A process id, or a unique part of the command line.")
  private String target;

  @Option(
      names = "--start",
      paramLabel = "COMMAND",
      description = "Start this program in place of TARGET, and stop it afterwards.")
  private String start;

  @Mixin private TargetOptions where;

  @Option(names = "--action", paramLabel = "COMMAND", description = "The action: a shell command.")
  private String action;

  @Option(names = "--get", paramLabel = "URL", description = "The action: getting a URL.")
  private String url;

  @Option(
      names = "--run",
      paramLabel = "SCRIPT",
      description = "The action, in a page: JavaScript, or a file of it (a promise is waited for).")
  private String script;

  @Option(
      names = "--click",
      paramLabel = "SELECTOR",
      description = "The action, in a page: clicking what a CSS selector fits; may be repeated.")
  private List<String> clicks;

  @Option(
      names = "--visit",
      paramLabel = "URL",
      description = "The action, in a page: going to a URL and back.")
  private String visit;

  @Option(
      names = "--times",
      paramLabel = "N",
      defaultValue = "5",
      description = "Actions a round (default: 5).")
  private int times;

  @Option(
      names = "--rounds",
      paramLabel = "N",
      defaultValue = "3",
      description = "Snapshots after the baseline (default: 3).")
  private int rounds;

  @Option(
      names = "--warm-up",
      paramLabel = "N",
      defaultValue = "1",
      description = "Rounds before the baseline (default: 1).")
  private int warmUp;

  @Option(
      names = "--no-confirm",
      description =
          "Leave out the long round that follows where something seems to pile up: three times as"
              + " many actions as all before, in which a cache stops growing and a leak goes on.")
  private boolean noConfirm;

  @Option(
      names = "--record",
      description =
          "JVM: record allocations meanwhile, so that the findings end with the line of code that"
              + " allocates what piles up.")
  private boolean record;

  @Option(
      names = "--who-adds",
      description =
          "V8: wrap the adding methods of the collection that grows for one more action, and show"
              + " the call stacks that add to it. Touches the target while it lasts.")
  private boolean whoAdds;

  private List<GrowthAnswer.Adder> adders = List.of();

  @Option(
      names = "--pause",
      description = "Wait for Enter before each snapshot, for a look by other means.")
  private boolean pause;

  @Option(
      names = "--keep",
      paramLabel = "DIR",
      description = "Where the snapshots go (default: rehearsal-TIME here).")
  private Path keep;

  @Option(
      names = "--fail-on-growth",
      arity = "0..1",
      fallbackValue = "0",
      paramLabel = "BYTES",
      description = "Exit code 1 if something grows (by more than BYTES an action).")
  private Long failOnGrowth;

  /** The command. */
  public RehearseCommand(Context context) {
    super(context);
  }

  @Override
  public Integer call() throws Exception {
    check();
    RuntimeInfo found = start == null ? checked(where.find(target)) : null;
    Path folder = keep != null ? keep : defaultFolder();
    Files.createDirectories(folder);
    try (var files = Files.list(folder)) {
      if (files.anyMatch(file -> file.toString().matches(".*\\.(hprof|heapsnapshot|nettrace)"))) {
        throw new UsageException(folder + " holds snapshots already; give an empty folder");
      }
    }
    recording = record ? new Background(folder.resolve("allocations.jfr")) : null;
    Rehearsal.Plan plan = new Rehearsal.Plan(action(), url, times, rounds, warmUp, folder);
    Rehearsal rehearsal = new Rehearsal(plan, listener());
    Rehearsal.Taken taken = start == null ? run(rehearsal, found) : started(rehearsal);
    GrowthAnswer answer =
        rehearsal
            .page()
            .addTo(GrowthCommand.ask(this, taken.files(), taken.actions()))
            .withAdders(adders);
    if (recording != null) {
      answer =
          FlightVerdict.join(
              answer, Snapshots.flight(recording.file()), FlightViews.own(minePackages()));
    }
    printed(answer);
    boolean failed = failOnGrowth != null && GrowthCommand.grows(answer, failOnGrowth);
    return failed ? ExitCodes.CHECK_FAILED : ExitCodes.FINE;
  }

  private Background recording;

  /** Rehearses, recorded meanwhile if that is wanted. */
  private Rehearsal.Taken run(Rehearsal rehearsal, RuntimeInfo runtime) throws Exception {
    if (recording == null) {
      return rehearsal.run(runtime, doubt(), afterwards());
    }
    recording.start(runtime);
    try {
      return rehearsal.run(runtime, doubt(), afterwards());
    } finally {
      recording.finish();
    }
  }

  private void printed(GrowthAnswer answer) throws IOException {
    print("growth", answer, () -> GrowthViews.view(answer, format()));
  }

  private Rehearsal.Afterwards afterwards() {
    return !whoAdds
        ? Rehearsal.Afterwards.NOTHING
        : (live, once, taken) -> {
          if (!(live instanceof V8Capture capture)) {
            throw new UsageException("--who-adds is for Node.js and pages");
          }
          GrowthAnswer answer = GrowthCommand.ask(this, taken.files(), taken.actions());
          adders = WhoAdds.of(capture, answer, once, text -> listener().step(text));
        };
  }

  private Rehearsal.Doubt doubt() {
    return noConfirm
        ? Rehearsal.Doubt.NONE
        : taken -> GrowthCommand.ask(this, taken.files(), taken.actions()).worthALongRound();
  }

  /** What is done in pages cannot be done elsewhere: that is said before anything is written. */
  private RuntimeInfo checked(RuntimeInfo runtime) {
    boolean inPage = script != null || clicks != null || visit != null;
    if (inPage && !runtime.extension().equals("heapsnapshot")) {
      throw new UsageException(
          runtime.program()
              + " is no page: --run, --click and --visit are done in pages; give --action 'COMMAND'"
              + " or --get URL");
    }
    return runtime;
  }

  private void check() {
    if ((target == null && where.at() == null) == (start == null)) {
      throw new UsageException("give either a TARGET or --start 'COMMAND'");
    }
    long actions =
        Stream.of(action, url, script, clicks, visit).filter(given -> given != null).count();
    if (actions != 1) {
      throw new UsageException(
          "give one action: --action 'COMMAND', --get URL, or in a page --run SCRIPT,"
              + " --click SELECTOR or --visit URL");
    }
    if (times < 1 || rounds < 1 || warmUp < 0) {
      throw new UsageException(
          "--times and --rounds take whole numbers from 1 on, --warm-up from 0");
    }
  }

  private Action action() throws IOException {
    if (action != null) {
      return Actions.shell(action);
    }
    if (url != null) {
      return Actions.get(url);
    }
    if (visit != null) {
      return Actions.visit(visit);
    }
    if (clicks != null) {
      return Actions.click(clicks);
    }
    boolean file = script.endsWith(".js") && Files.isRegularFile(Path.of(script));
    return Actions.script(file ? Files.readString(Path.of(script)) : script);
  }

  private static Path defaultFolder() {
    String time = DateTimeFormatter.ofPattern("yyyyMMdd-HHmmss").format(LocalDateTime.now());
    return Path.of("rehearsal-" + time);
  }

  private Rehearsal.Taken started(Rehearsal rehearsal) throws Exception {
    ProcessBuilder builder =
        new ProcessBuilder("sh", "-c", "exec " + start)
            .redirectOutput(ProcessBuilder.Redirect.DISCARD)
            .redirectError(ProcessBuilder.Redirect.DISCARD);
    // a Node.js program opens its inspector; to others this means nothing
    builder
        .environment()
        .merge(
            "NODE_OPTIONS", "--inspect=127.0.0.1:" + freePort(), (old, more) -> old + " " + more);
    Process program = builder.start();
    Thread hook = new Thread(() -> stop(program));
    Runtime.getRuntime().addShutdownHook(hook);
    try {
      RuntimeInfo runtime = runtimeOf(program);
      rehearsal.awaitReady(program);
      return run(rehearsal, runtime);
    } finally {
      stop(program);
      try {
        Runtime.getRuntime().removeShutdownHook(hook);
      } catch (IllegalStateException e) {
        // going down already; the hook does the same
      }
    }
  }

  private static void stop(Process program) {
    program.descendants().forEach(ProcessHandle::destroy);
    program.destroy();
  }

  private static int freePort() throws IOException {
    try (ServerSocket socket = new ServerSocket(0)) {
      return socket.getLocalPort();
    }
  }

  /** The runtime that a command became or started. */
  private RuntimeInfo runtimeOf(Process program) throws IOException, InterruptedException {
    long deadline = System.nanoTime() + TimeUnit.SECONDS.toNanos(PATIENCE_SECONDS);
    while (System.nanoTime() < deadline && program.isAlive()) {
      List<RuntimeInfo> all = Runtimes.list(null);
      Optional<RuntimeInfo> found =
          all.stream()
              .filter(info -> info.accessible() && info.uptimeMillis() >= 0)
              .filter(
                  info ->
                      info.pid() == program.pid()
                          || program.descendants().anyMatch(child -> child.pid() == info.pid()))
              .findFirst();
      if (found.isPresent()) {
        return found.get();
      }
      TimeUnit.MILLISECONDS.sleep(50);
    }
    throw new CaptureException(
        program.isAlive()
            ? "`"
                + start
                + "` started no JVM, Node.js or .NET process within "
                + PATIENCE_SECONDS
                + " s"
            : "`" + start + "` ended with code " + program.exitValue() + " before it was ready");
  }

  private Rehearsal.Listener listener() {
    Format format = format();
    return new Rehearsal.Listener() {
      @Override
      public void step(String text) {
        context.err().println("lipsanon: " + text);
        context.err().flush();
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
      public void beforeSnapshot() throws IOException {
        if (pause) {
          step("press Enter to take the snapshot");
          new BufferedReader(new InputStreamReader(System.in, Charset.defaultCharset())).readLine();
        }
      }
    };
  }
}
