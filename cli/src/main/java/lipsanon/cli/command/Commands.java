package lipsanon.cli.command;

import java.util.LinkedHashMap;
import java.util.Map;
import java.util.function.Function;
import lipsanon.cli.Context;
import lipsanon.cli.ExitCodes;
import lipsanon.cli.Main;
import picocli.CommandLine;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Spec;

/** All commands. Only the one that is asked for is registered: that keeps the start short. */
public final class Commands {
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
        spec.commandLine().getOut().println("lipsanon " + Main.VERSION);
      } else {
        spec.commandLine().usage(spec.commandLine().getOut());
      }
    }
  }

  private static Map<String, Function<Context, Object>> all() {
    Map<String, Function<Context, Object>> all = new LinkedHashMap<>();
    all.put("demo", DemoCommand::new);
    all.put("runtimes", RuntimesCommand::new);
    all.put("capture", CaptureCommand::new);
    all.put("survey", SurveyCommand::new);
    all.put("types", TypesCommand::new);
    all.put("keepers", KeepersCommand::new);
    all.put("sift", SiftCommand::new);
    all.put("show", ShowCommand::new);
    all.put("why", WhyCommand::new);
    all.put("diff", DiffCommand::new);
    all.put("growth", GrowthCommand::new);
    all.put("rehearse", RehearseCommand::new);
    all.put("prove", ProveCommand::new);
    all.put("record", RecordCommand::new);
    all.put("origins", OriginsCommand::new);
    all.put("index", IndexCommand::new);
    all.put("export", ExportCommand::new);
    return all;
  }

  /**
   * The command line with the command that the arguments ask for, or with all where that is help.
   */
  public static CommandLine line(Context context, String... args) {
    CommandLine line = new CommandLine(new Root());
    Map<String, Function<Context, Object>> all = all();
    Function<Context, Object> wanted = args.length == 0 ? null : all.get(args[0]);
    if (wanted != null) {
      line.addSubcommand(args[0], wanted.apply(context));
    } else {
      all.forEach((name, make) -> line.addSubcommand(name, make.apply(context)));
    }
    line.setCaseInsensitiveEnumValuesAllowed(true);
    line.setExitCodeExceptionMapper(e -> ExitCodes.OWN_FAULT);
    line.setUsageHelpWidth(Math.min(100, Math.max(60, context.terminal().width())));
    line.setAbbreviatedOptionsAllowed(false);
    return line;
  }
}
