package lipsanon.cli;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Function;
import java.util.function.Supplier;
import lipsanon.cli.command.change.DiffCommand;
import lipsanon.cli.command.change.GrowthCommand;
import lipsanon.cli.command.change.ProveCommand;
import lipsanon.cli.command.check.GateCommand;
import lipsanon.cli.command.fleet.FleetCommand;
import lipsanon.cli.command.live.CaptureCommand;
import lipsanon.cli.command.live.RecordCommand;
import lipsanon.cli.command.live.RehearseCommand;
import lipsanon.cli.command.live.RuntimesCommand;
import lipsanon.cli.command.live.WatchCommand;
import lipsanon.cli.command.look.ExploreCommand;
import lipsanon.cli.command.look.KeepersCommand;
import lipsanon.cli.command.look.OriginsCommand;
import lipsanon.cli.command.look.RefsCommand;
import lipsanon.cli.command.look.SavingsCommand;
import lipsanon.cli.command.look.ShowCommand;
import lipsanon.cli.command.look.SiftCommand;
import lipsanon.cli.command.look.SqlCommand;
import lipsanon.cli.command.look.SurveyCommand;
import lipsanon.cli.command.look.TypesCommand;
import lipsanon.cli.command.look.WhyCommand;
import lipsanon.cli.command.setup.ConfigCommand;
import lipsanon.cli.command.setup.DemoCommand;
import lipsanon.cli.command.setup.IndexCommand;
import lipsanon.cli.command.setup.ReadyCommand;
import lipsanon.cli.command.share.ExportCommand;
import lipsanon.cli.command.share.RedactCommand;
import lipsanon.cli.command.share.ReportCommand;
import lipsanon.cli.settings.Settings;
import picocli.CommandLine;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.ArgSpec;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Model.OptionSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Spec;

/** All commands. Only the one that is asked for is registered: that keeps the start short. */
final class Commands {
  private Commands() {}

  @Command(
      name = "lipsanon",
      description = "Finds out why a program's memory grows.",
      synopsisSubcommandLabel = "COMMAND",
      footer = {
        "",
        "Exit codes: 0 fine, 1 the check asked for failed, 2 wrong usage, 3 bad input,",
        "4 the target refused or vanished, 5 a fault of our own.",
        "Any command takes --memory SIZE (for example 1g): how much memory it may use.",
        "Begin with: lipsanon demo"
      })
  private static final class Root implements Runnable {
    @Option(
        names = {"-h", "--help"},
        usageHelp = true,
        description = "List the commands.")
    private boolean help;

    @Option(names = "--version", description = "Print the version.")
    private boolean version;

    @Spec private CommandSpec spec;

    @Override
    public void run() {
      if (version) {
        spec.commandLine().getOut().println(Version.text());
      } else {
        spec.commandLine().usage(spec.commandLine().getOut());
      }
    }
  }

  private static Map<String, Function<Context, Object>> all() {
    Map<String, Function<Context, Object>> all = new LinkedHashMap<>();
    all.put("demo", context -> new DemoCommand(context, Commands::question));
    all.put("runtimes", RuntimesCommand::new);
    all.put("watch", WatchCommand::new);
    all.put("capture", CaptureCommand::new);
    all.put("survey", SurveyCommand::new);
    all.put("types", TypesCommand::new);
    all.put("keepers", KeepersCommand::new);
    all.put("sift", SiftCommand::new);
    all.put("refs", RefsCommand::new);
    all.put("show", ShowCommand::new);
    all.put("why", WhyCommand::new);
    all.put("savings", SavingsCommand::new);
    all.put("explore", context -> new ExploreCommand(context, Commands::question));
    // not by its constructor alone: what it needs lies apart, and is not there for other commands
    all.put("sql", context -> new SqlCommand(context));
    all.put("fleet", context -> new FleetCommand(context));
    all.put("diff", DiffCommand::new);
    all.put("growth", GrowthCommand::new);
    all.put("rehearse", RehearseCommand::new);
    all.put("prove", ProveCommand::new);
    all.put("record", RecordCommand::new);
    all.put("origins", OriginsCommand::new);
    all.put("gate", GateCommand::new);
    all.put("index", IndexCommand::new);
    all.put("report", ReportCommand::new);
    all.put("export", ExportCommand::new);
    all.put("redact", RedactCommand::new);
    all.put("ready", ReadyCommand::new);
    all.put("config", ConfigCommand::new);
    return all;
  }

  /** A question at the prompt: what fails is told, and the prompt goes on. */
  private static void question(Context context, List<String> words) {
    CommandLine line = line(context, words.toArray(String[]::new));
    Failures failures = new Failures(context);
    line.setOut(context.out()).setErr(context.err());
    line.setParameterExceptionHandler((e, given) -> failures.usage(e));
    line.setExecutionExceptionHandler((e, command, result) -> failures.failed(e));
    try {
      line.execute(words.toArray(String[]::new));
    } catch (Error e) {
      failures.failed(e);
    }
    context.out().flush();
    context.err().flush();
  }

  /** For a list of commands: without those whose parts are not there. */
  private static void addIfThere(CommandLine line, String name, Supplier<Object> make) {
    try {
      line.addSubcommand(name, make.get());
    } catch (NoClassDefFoundError e) {
      // told when it is asked for
      return;
    }
  }

  /** What an option is where the command line does not give it, or null. */
  private static String preset(Settings settings, ArgSpec argument) {
    if (!argument.isOption()) {
      return null;
    }
    Settings.Value value = settings.of(((OptionSpec) argument).longestName().substring(2));
    return value == null ? null : value.value();
  }

  /**
   * The command line with the command that the arguments ask for, or with all where that is help.
   */
  static CommandLine line(Context context, String... args) {
    CommandLine line = new CommandLine(new Root());
    Map<String, Function<Context, Object>> all = all();
    Function<Context, Object> wanted = args.length == 0 ? null : all.get(args[0]);
    if (wanted != null) {
      try {
        line.addSubcommand(args[0], wanted.apply(context));
      } catch (NoClassDefFoundError e) {
        throw new UsageException(
            args[0]
                + ": the engine is not part of this installation: write tables with `lipsanon"
                + " export`, and ask them elsewhere");
      }
    } else {
      all.forEach((name, make) -> addIfThere(line, name, () -> make.apply(context)));
    }
    line.setCaseInsensitiveEnumValuesAllowed(true);
    line.setExitCodeExceptionMapper(e -> ExitCodes.OWN_FAULT);
    line.setUsageHelpWidth(Math.min(100, Math.max(60, context.terminal().width())));
    line.setAbbreviatedOptionsAllowed(false);
    Settings settings = context.settings();
    line.setDefaultValueProvider(argument -> preset(settings, argument));
    return line;
  }
}
