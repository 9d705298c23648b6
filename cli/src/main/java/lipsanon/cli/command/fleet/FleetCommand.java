package lipsanon.cli.command.fleet;

import java.io.IOException;
import java.nio.file.Path;
import java.sql.SQLException;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import lipsanon.capture.CaptureException;
import lipsanon.cli.Context;
import lipsanon.cli.ExitCodes;
import lipsanon.cli.UsageException;
import lipsanon.cli.command.Answering;
import lipsanon.cli.command.LimitOption;
import lipsanon.cli.command.NoEngine;
import lipsanon.cli.command.ScratchFolder;
import lipsanon.cli.term.SafeText;
import lipsanon.cli.term.TerminalProgress;
import lipsanon.fleet.ChildTask;
import lipsanon.fleet.Cluster;
import lipsanon.fleet.FleetAnswer;
import lipsanon.fleet.FleetQuestion;
import lipsanon.fleet.FleetTables;
import lipsanon.fleet.Inputs;
import lipsanon.fleet.Item;
import lipsanon.fleet.LabelPattern;
import lipsanon.fleet.LocalFleet;
import lipsanon.fleet.Plan;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Many snapshots at once. */
@Command(
    name = "fleet",
    description =
        "Hundreds of snapshots: what grows on how many hosts, since which build? Each is reduced to"
            + " rows of tables; without INPUT only what the tables say.")
public final class FleetCommand extends Answering {
  private static final int ROWS = 10;

  /** A task with less memory is not worth starting; with more it gains nothing. */
  private static final long LEAST_TASK = 64L << 20;

  private static final long MOST_TASK = 4L << 30;

  /** What a task on a cluster may use where nobody says. */
  private static final long CLUSTER_TASK = 1L << 30;

  private static final Pattern SIZE = Pattern.compile("([0-9]{1,6})([mMgG])");

  @Parameters(
      arity = "0..*",
      paramLabel = "INPUT",
      description =
          "Snapshots, folders with snapshots, patterns, lists (.txt, one a line), or manifests: CSV"
              + " files with the columns file, service, build, host, time.")
  private List<String> inputs = List.of();

  @Option(
      names = "--tables",
      paramLabel = "DIR",
      defaultValue = "lipsanon-fleet",
      description =
          "The folder of the tables (default: lipsanon-fleet); with --on any address that the"
              + " cluster's file systems open.")
  private String folder;

  @Option(
      names = "--copy-to",
      paramLabel = "DIR",
      description =
          "Where tables at an address are copied to, to be read here by fleet, sql and report; only"
              + " what is new is copied.")
  private Path copyTo;

  @Option(
      names = "--labels",
      paramLabel = "PATTERN",
      description =
          "Where paths have their labels, for example '{service}/{build}/{host}/{time}.hprof'.")
  private String labels;

  @Option(
      names = "--workers",
      paramLabel = "N",
      description = "Snapshots at once (default: one for each processor).")
  private Integer workers;

  @Option(
      names = "--task-timeout",
      paramLabel = "SECONDS",
      defaultValue = "3600",
      description = "End a task after this time (default: 3600).")
  private long timeoutSeconds;

  @Option(
      names = "--mine",
      paramLabel = "PACKAGES",
      description = "Your own packages, comma-separated (default: found in each snapshot).")
  private String mine;

  @Option(
      names = "--on",
      paramLabel = "ADDRESS",
      description =
          "Run the tasks on a Spark cluster, for example spark://host:7077; SPARK_HOME says where"
              + " its programs are.")
  private String cluster;

  @Option(
      names = "--spark-conf",
      paramLabel = "KEY=VALUE",
      description = "With --on: a setting of the engine. May be repeated.")
  private List<String> settings = List.of();

  @Option(
      names = "--task-memory",
      paramLabel = "SIZE",
      description =
          "How much memory one task may use (default: --memory shared out; on a cluster 1g).")
  private String taskMemory;

  @Mixin private LimitOption limit;

  /** The command. */
  public FleetCommand(Context context) {
    super(context);
  }

  @Override
  public Integer call() throws Exception {
    try {
      return answer();
    } catch (NoClassDefFoundError | UnsatisfiedLinkError e) {
      throw NoEngine.on("fleet", "");
    } catch (IllegalArgumentException | IllegalStateException e) {
      throw new UsageException("fleet: " + SafeText.message(e.getMessage()));
    }
  }

  private int answer() throws Exception {
    if (workers != null && workers < 1) {
      throw new UsageException("--workers takes a number from 1 on");
    }
    List<Item> items = items();
    boolean remote = Inputs.isAddress(folder);
    if (remote) {
      return atAddress(items);
    }
    if (copyTo != null) {
      throw new UsageException("--copy-to is for tables at an address; " + folder + " is a folder");
    }
    Path tables = Path.of(folder);
    if (items.isEmpty() && !FleetTables.isFleet(tables)) {
      throw new UsageException(
          inputs.isEmpty()
              ? "give snapshots or folders; " + folder + " has no tables yet"
              : "there is no snapshot in " + String.join(", ", inputs));
    }
    try (FleetTables open =
        items.isEmpty()
            ? FleetTables.read(tables, engineBytes())
            : FleetTables.open(tables, engineBytes())) {
      LocalFleet.Result run = items.isEmpty() ? null : run(open, items);
      answer(open, run);
      return code(run);
    } catch (SQLException e) {
      throw new IOException(folder + ": " + e.getMessage(), e);
    }
  }

  /** That some snapshots fail is usual; where all do, and none was done before, nothing is told. */
  private static int code(LocalFleet.Result run) {
    boolean none = run != null && run.failed() > 0 && run.done() + run.before() == 0;
    return none ? ExitCodes.BAD_INPUT : ExitCodes.FINE;
  }

  private void answer(FleetTables open, LocalFleet.Result run) throws Exception {
    FleetAnswer answer = FleetQuestion.ask(open, limit.or(ROWS));
    print("fleet", answer, () -> FleetViews.of(answer, run, format()));
  }

  /** Tables that this machine does not see: a cluster adds to them, and they are asked by copy. */
  private int atAddress(List<Item> items) throws Exception {
    if (items.isEmpty() && copyTo == null) {
      throw new UsageException(
          folder + ": tables at an address are read by copy: add --copy-to DIR");
    }
    if (!items.isEmpty() && cluster == null) {
      throw new UsageException(folder + ": tables at an address are written by a cluster (--on)");
    }
    if (copyTo != null && !FleetTables.mayHold(copyTo)) {
      throw new UsageException(
          copyTo + " holds other things than tables; give a new folder for the copy");
    }
    LocalFleet.Result run = items.isEmpty() ? null : onCluster(folder, items);
    if (copyTo == null) {
      print("fleet-run", run, () -> FleetViews.ofRun(run, folder));
      return code(run);
    }
    copy();
    try (FleetTables open = FleetTables.read(copyTo, engineBytes())) {
      answer(open, run);
      return code(run);
    } catch (SQLException e) {
      throw new IOException(copyTo + ": " + e.getMessage(), e);
    }
  }

  private void copy() throws Exception {
    Cluster engine = engine("--copy-to");
    try (ScratchFolder work = ScratchFolder.of("fleet");
        TerminalProgress progress = context.progress()) {
      progress.phase("copying the tables to " + copyTo, 0);
      engine.copy(folder, copyTo, work.path(), line -> {});
    } catch (IOException e) {
      throw new CaptureException(e.getMessage());
    }
  }

  /** The engine of the user's own. */
  private Cluster engine(String option) throws IOException {
    String home = context.environment().get("SPARK_HOME");
    if (home == null || home.isEmpty()) {
      throw new UsageException(
          option + ": set SPARK_HOME to the folder of the engine's programs (bin, jars)");
    }
    return new Cluster(Path.of(home), cluster, JobArchive.find(), settings);
  }

  private List<Item> items() throws IOException {
    Inputs found = new Inputs(labels == null ? null : new LabelPattern(labels), cluster != null);
    for (String input : inputs) {
      found.add(input);
    }
    if (found.unlabelled() > 0) {
      context
          .err()
          .println(
              "lipsanon: "
                  + found.unlabelled()
                  + " of "
                  + found.items().size()
                  + " snapshots do not fit the pattern "
                  + labels
                  + ": they are of the folder that they lie in");
    }
    return found.items();
  }

  private static long engineBytes() {
    return Math.max(128L << 20, Runtime.getRuntime().maxMemory() / 2);
  }

  private LocalFleet.Result run(FleetTables tables, List<Item> items) throws Exception {
    if (cluster != null) {
      return onCluster(tables.folder().toAbsolutePath().normalize().toString(), items);
    }
    int most = workers == null ? Runtime.getRuntime().availableProcessors() : workers;
    int many = Math.min(most, items.size());
    long shared = Math.min(MOST_TASK, Runtime.getRuntime().maxMemory() / many);
    long each = taskMemory == null ? shared : taskBytes();
    if (each < LEAST_TASK) {
      throw new UsageException(
          "--memory: "
              + many
              + " tasks at once need "
              + (many * LEAST_TASK >> 20)
              + "m together; give more, or fewer --workers");
    }
    ChildTask task =
        new ChildTask(ChildTask.ownClassPath(), each, hidingKey(), split(mine), timeoutMillis());
    // indexes are large: they go to the disk that was chosen, not to where temporary files lie
    try (ScratchFolder work = ScratchFolder.in(tables.folder(), "fleet");
        TerminalProgress progress = context.progress()) {
      return LocalFleet.run(tables, items, task, many, work.path(), progress);
    }
  }

  private long taskBytes() {
    Matcher size = SIZE.matcher(taskMemory);
    if (!size.matches()) {
      throw new UsageException("--task-memory takes a size such as 512m or 4g");
    }
    boolean giga = size.group(2).equalsIgnoreCase("g");
    long bytes = Long.parseLong(size.group(1)) << (giga ? 30 : 20);
    if (bytes < LEAST_TASK) {
      throw new UsageException("--task-memory: a task needs " + (LEAST_TASK >> 20) + "m at least");
    }
    return bytes;
  }

  private long timeoutMillis() {
    if (timeoutSeconds < 1) {
      throw new UsageException("--task-timeout takes seconds, from 1 on");
    }
    return Duration.ofSeconds(timeoutSeconds).toMillis();
  }

  private LocalFleet.Result onCluster(String tables, List<Item> items) throws Exception {
    Cluster on = engine("--on");
    long memory = taskMemory == null ? CLUSTER_TASK : taskBytes();
    Plan plan = new Plan(tables, memory, hidingKey(), split(mine), timeoutMillis(), items);
    List<String> failures = new ArrayList<>();
    LocalFleet.Result run;
    try (ScratchFolder work = ScratchFolder.of("fleet");
        TerminalProgress progress = context.progress()) {
      progress.phase("looking at " + items.size() + " snapshots on " + cluster, items.size());
      long[] ended = {0};
      run =
          on.run(
              plan,
              work.path(),
              line -> {
                if (line.contains("Finished task")) {
                  progress.at(Math.min(items.size(), ++ended[0]));
                }
                Cluster.failure(line).ifPresent(failures::add);
              });
    } catch (IOException e) {
      throw new CaptureException(e.getMessage());
    }
    for (String failure : failures) {
      context.err().println("lipsanon: " + SafeText.message(failure));
    }
    return run;
  }
}
