package lipsanon.cli.command.fleet;

import java.io.IOException;
import java.nio.file.Path;
import java.sql.SQLException;
import java.time.Duration;
import java.util.List;
import lipsanon.cli.Context;
import lipsanon.cli.ExitCodes;
import lipsanon.cli.UsageException;
import lipsanon.cli.command.Answering;
import lipsanon.cli.command.LimitOption;
import lipsanon.cli.command.ScratchFolder;
import lipsanon.cli.term.SafeText;
import lipsanon.cli.term.TerminalProgress;
import lipsanon.fleet.ChildTask;
import lipsanon.fleet.FleetAnswer;
import lipsanon.fleet.FleetQuestion;
import lipsanon.fleet.FleetTables;
import lipsanon.fleet.Inputs;
import lipsanon.fleet.Item;
import lipsanon.fleet.LabelPattern;
import lipsanon.fleet.LocalFleet;
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

  @Parameters(
      arity = "0..*",
      paramLabel = "INPUT",
      description =
          "Snapshots, folders with snapshots, or manifests: CSV files with the columns file,"
              + " service, build, host, time.")
  private List<String> inputs = List.of();

  @Option(
      names = "--tables",
      paramLabel = "DIR",
      defaultValue = "lipsanon-fleet",
      description = "The folder of the tables (default: lipsanon-fleet).")
  private Path folder;

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
      throw new UsageException(
          "fleet: the engine is not there for this machine ("
              + System.getProperty("os.name")
              + " "
              + System.getProperty("os.arch")
              + ")");
    } catch (IllegalArgumentException | IllegalStateException e) {
      throw new UsageException("fleet: " + SafeText.message(e.getMessage()));
    }
  }

  private int answer() throws Exception {
    if (workers != null && workers < 1) {
      throw new UsageException("--workers takes a number from 1 on");
    }
    List<Item> items = items();
    if (items.isEmpty() && !FleetTables.isFleet(folder)) {
      throw new UsageException(
          inputs.isEmpty()
              ? "give snapshots or folders; " + folder + " has no tables yet"
              : "there is no snapshot in " + String.join(", ", inputs));
    }
    try (FleetTables tables = FleetTables.open(folder, engineBytes())) {
      LocalFleet.Result run = items.isEmpty() ? null : run(tables, items);
      FleetAnswer answer = FleetQuestion.ask(tables, limit.or(ROWS));
      print("fleet", answer, () -> FleetViews.of(answer, run, format()));
    } catch (SQLException e) {
      throw new IOException(folder + ": " + e.getMessage(), e);
    }
    return ExitCodes.FINE;
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
      return onCluster(tables, items);
    }
    int most = workers == null ? Runtime.getRuntime().availableProcessors() : workers;
    int many = Math.min(most, items.size());
    long each = Math.min(MOST_TASK, Runtime.getRuntime().maxMemory() / many);
    if (each < LEAST_TASK) {
      throw new UsageException(
          "--memory: "
              + many
              + " tasks at once need "
              + (many * LEAST_TASK >> 20)
              + "m together; give more, or fewer --workers");
    }
    ChildTask task =
        new ChildTask(
            ChildTask.ownClassPath(), each, tables.hidingKey(), split(mine), timeoutMillis());
    try (ScratchFolder work = ScratchFolder.of("fleet");
        TerminalProgress progress = context.progress()) {
      return LocalFleet.run(tables, items, task, many, work.path(), progress);
    }
  }

  private long timeoutMillis() {
    if (timeoutSeconds < 1) {
      throw new UsageException("--task-timeout takes seconds, from 1 on");
    }
    return Duration.ofSeconds(timeoutSeconds).toMillis();
  }

  private LocalFleet.Result onCluster(FleetTables tables, List<Item> items) {
    throw new UsageException("--on is not there yet");
  }
}
