package lipsanon.cli.command.setup;

import java.nio.file.Files;
import java.util.ArrayList;
import java.util.List;
import lipsanon.cli.Context;
import lipsanon.cli.ExitCodes;
import lipsanon.cli.command.Answering;
import lipsanon.cli.settings.Setting;
import lipsanon.cli.settings.Settings;
import lipsanon.cli.term.Table;
import lipsanon.cli.term.View;
import picocli.CommandLine.Command;

/** Which settings hold, and where they were set. */
@Command(
    name = "config",
    description =
        "Which settings hold, and where they were set: an option of a command comes first, then the"
            + " environment, the project's lipsanon.yaml, the user's config.yaml.")
public final class ConfigCommand extends Answering {
  /** The command. */
  public ConfigCommand(Context context) {
    super(context);
  }

  /** A setting with what holds of it; the value is "" where nothing was set. */
  record Row(String name, String value, String origin, String takes, String meaning) {}

  /** The answer. */
  record Config(List<Row> settings, String userFile, String projectFile) {}

  @Override
  public Integer call() throws Exception {
    Settings settings = context.settings();
    List<Row> rows = new ArrayList<>();
    for (Setting setting : Setting.ALL) {
      Settings.Value value = settings.of(setting.name());
      rows.add(
          new Row(
              setting.name(),
              value == null ? "" : value.value(),
              value == null ? "" : value.origin(),
              setting.values(),
              setting.meaning()));
    }
    String project = settings.projectFile() == null ? "" : settings.projectFile().toString();
    Config answer = new Config(rows, settings.userFile().toString(), project);
    print("config", answer, () -> view(answer, Files.exists(settings.userFile())));
    return ExitCodes.FINE;
  }

  private static View view(Config answer, boolean users) {
    View view = new View();
    Table table = new Table().text("setting").text("value").longText("from").longText("meaning");
    for (Row row : answer.settings()) {
      table.row(
          row.name(),
          row.value(),
          row.origin().isEmpty() ? "not set" : row.origin(),
          row.meaning());
    }
    view.table(table);
    view.line(
        "Yours: "
            + answer.userFile()
            + (users ? "" : " (not there)")
            + ". The project's: "
            + (answer.projectFile().isEmpty()
                ? "no " + Settings.PROJECT_FILE + " here or above"
                : answer.projectFile())
            + ".");
    return view.line(
        "An option of a command comes first, then a variable (LIPSANON_MINE and so on), then the"
            + " project's file, then yours; hide-contents holds wherever it is true.");
  }
}
