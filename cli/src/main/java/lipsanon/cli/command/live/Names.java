package lipsanon.cli.command.live;

import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDateTime;
import java.time.format.DateTimeFormatter;
import lipsanon.capture.RuntimeInfo;
import lipsanon.cli.command.Answering;
import lipsanon.redact.PathMask;

/** Names of files for what is taken from a runtime, where the user gives none. */
final class Names {
  private Names() {}

  /**
   * How a program is called in an answer: without arguments and folders where these are private.
   */
  static String program(RuntimeInfo info, Answering command) {
    if (!command.hidesContents()) {
      return info.program();
    }
    String first = info.program().replaceFirst("\\s.*$", "");
    return PathMask.of(first) + (first.length() < info.program().length() ? " ..." : "");
  }

  /** {@code PROGRAM-ID}: what all files of a runtime begin with. */
  static String prefix(RuntimeInfo info) {
    boolean dotted = info.kind().equals(RuntimeInfo.JVM);
    String program =
        info.program().replaceAll(dotted ? ".*[./\\\\](?=[^./\\\\]+$)" : ".*/(?=[^/]+/?$)", "");
    return program.replaceAll("[^A-Za-z0-9_-]", "_") + "-" + info.id();
  }

  /** {@code PROGRAM-ID-TIME.EXTENSION} in the working folder; no file has the name yet. */
  static Path fresh(RuntimeInfo info, String extension) {
    String time = DateTimeFormatter.ofPattern("yyyyMMdd-HHmmss").format(LocalDateTime.now());
    Path file = Path.of(prefix(info) + "-" + time + "." + extension);
    for (int i = 2; Files.exists(file); i++) {
      file = Path.of(prefix(info) + "-" + time + "-" + i + "." + extension);
    }
    return file;
  }
}
