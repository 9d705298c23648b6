package lipsanon.cli.command;

import lipsanon.cli.Context;
import picocli.CommandLine.Command;

@Command(name = "demo", description = "The whole job once, on the shipped Port Merrow service.")
final class DemoCommand extends Answering {
  DemoCommand(Context context) {
    super(context);
  }

  @Override
  public Integer call() {
    return 0;
  }
}
