package lipsanon.cli.command.live;

import java.io.IOException;
import lipsanon.capture.RuntimeInfo;
import lipsanon.capture.Runtimes;
import lipsanon.cli.UsageException;
import picocli.CommandLine.Option;

/** How a live runtime is found, besides by its name. */
final class TargetOptions {
  @Option(
      names = "--at",
      paramLabel = "HOST:PORT",
      description = "Look behind this debugging port: a browser's pages and workers, or Node.js.")
  private String at;

  @Option(
      names = "--open",
      description =
          "Make a Node.js process open its inspector (SIGUSR1): a debug port on the loopback,"
              + " which is closed again afterwards.")
  private boolean open;

  RuntimeInfo find(String target) throws IOException {
    if (target == null && at == null) {
      throw new UsageException("give a TARGET: a process id or a part of the command line");
    }
    return Runtimes.find(target, at, open);
  }

  /** The debugging port, or null. */
  String at() {
    return at;
  }
}
