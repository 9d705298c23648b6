package lipsanon.cli;

import java.util.List;
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

  /** All names, in the order of their list. */
  private static final List<String> NAMES =
      List.of(
          "demo",
          "runtimes",
          "watch",
          "capture",
          "survey",
          "types",
          "keepers",
          "sift",
          "refs",
          "show",
          "why",
          "savings",
          "explore",
          "sql",
          "fleet",
          "diff",
          "growth",
          "rehearse",
          "prove",
          "record",
          "origins",
          "gate",
          "index",
          "report",
          "export",
          "redact",
          "ready",
          "config");

  /**
   * Makes a command; null if there is none of that name. A switch, so that nothing is loaded of the
   * others.
   */
  private static Object make(String name, Context context) {
    return switch (name) {
      case "demo" -> new DemoCommand(context, Commands::question);
      case "runtimes" -> new RuntimesCommand(context);
      case "watch" -> new WatchCommand(context);
      case "capture" -> new CaptureCommand(context);
      case "survey" -> new SurveyCommand(context);
      case "types" -> new TypesCommand(context);
      case "keepers" -> new KeepersCommand(context);
      case "sift" -> new SiftCommand(context);
      case "refs" -> new RefsCommand(context);
      case "show" -> new ShowCommand(context);
      case "why" -> new WhyCommand(context);
      case "savings" -> new SavingsCommand(context);
      case "explore" -> new ExploreCommand(context, Commands::question);
      case "sql" -> new SqlCommand(context);
      case "fleet" -> new FleetCommand(context);
      case "diff" -> new DiffCommand(context);
      case "growth" -> new GrowthCommand(context);
      case "rehearse" -> new RehearseCommand(context);
      case "prove" -> new ProveCommand(context);
      case "record" -> new RecordCommand(context);
      case "origins" -> new OriginsCommand(context);
      case "gate" -> new GateCommand(context);
      case "index" -> new IndexCommand(context);
      case "report" -> new ReportCommand(context);
      case "export" -> new ExportCommand(context);
      case "redact" -> new RedactCommand(context);
      case "ready" -> new ReadyCommand(context);
      case "config" -> new ConfigCommand(context);
      default -> null;
    };
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
  private static void addIfThere(CommandLine line, String name, Context context) {
    try {
      line.addSubcommand(name, make(name, context));
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
    boolean one = args.length > 0 && NAMES.contains(args[0]);
    if (one) {
      try {
        line.addSubcommand(args[0], make(args[0], context));
      } catch (NoClassDefFoundError e) {
        throw new UsageException(
            args[0]
                + ": the engine is not part of this installation: write tables with `lipsanon"
                + " export`, and ask them elsewhere");
      }
    } else {
      NAMES.forEach(name -> addIfThere(line, name, context));
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
