package lipsanon.cli.command.setup;

import java.util.List;
import lipsanon.cli.Context;
import lipsanon.cli.ExitCodes;
import lipsanon.cli.Version;
import lipsanon.cli.command.Answering;
import lipsanon.cli.term.SafeText;
import lipsanon.cli.term.Table;
import lipsanon.cli.term.View;
import picocli.CommandLine.Command;

/** What works on this machine. */
@Command(
    name = "ready",
    description =
        "What works on this machine, and how to mend what does not: attaching, sockets,"
            + " permissions, memory, folders, runtimes, browsers. Exit code 1 if something is broken.")
public final class ReadyCommand extends Answering {
  /** The command. */
  public ReadyCommand(Context context) {
    super(context);
  }

  /** The answer. */
  record Ready(String version, boolean ready, List<Machine.Check> checks) {}

  @Override
  public Integer call() throws Exception {
    List<Machine.Check> checks = new Machine(context.environment(), context.cache()).check();
    boolean ready = checks.stream().noneMatch(check -> check.state().equals("broken"));
    Ready answer = new Ready(Version.text(), ready, checks);
    print("ready", answer, () -> view(answer));
    return ready ? ExitCodes.FINE : ExitCodes.CHECK_FAILED;
  }

  private static View view(Ready answer) {
    View view = new View();
    long broken = answer.checks().stream().filter(check -> check.state().equals("broken")).count();
    view.heading(
        answer.version()
            + (broken == 0
                ? ": everything that it needs works here."
                : ": " + broken + " broken."));
    Table table = new Table().text("").text("what").longText("found");
    for (Machine.Check check : answer.checks()) {
      table.row(check.state(), check.what(), SafeText.visible(check.found()));
    }
    view.table(table);
    for (Machine.Check check : answer.checks()) {
      if (!check.mend().isEmpty()) {
        view.line(check.what() + ": " + check.mend() + ".");
      }
    }
    return view.next("lipsanon runtimes", "what runs here that could be looked into")
        .next("lipsanon config", "which settings hold");
  }
}
