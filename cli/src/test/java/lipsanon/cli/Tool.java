package lipsanon.cli;

import java.io.File;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.concurrent.TimeUnit;

/** Runs the program as users do: in a process of its own. */
final class Tool {
  private Tool() {}

  /** What a run left. */
  record Result(int code, String out, String err) {
    String both() {
      return "code " + code + "\n" + out + "\n" + err;
    }
  }

  static Result run(Path folder, String... args) throws IOException, InterruptedException {
    return run(folder, Map.of(), args);
  }

  static Result run(Path folder, Map<String, String> environment, String... args)
      throws IOException, InterruptedException {
    List<String> command = Packed.command("-Xmx700m");
    command.addAll(List.of(args));
    return execute(folder, environment, command);
  }

  static Result execute(Path folder, Map<String, String> environment, List<String> command)
      throws IOException, InterruptedException {
    File out = File.createTempFile("tool", ".out");
    File err = File.createTempFile("tool", ".err");
    try {
      ProcessBuilder builder =
          new ProcessBuilder(command)
              .directory(folder.toFile())
              .redirectOutput(out)
              .redirectError(err);
      builder
          .environment()
          .putAll(
              Map.of(
                  "LC_ALL", "C.UTF-8",
                  "XDG_CACHE_HOME", folder + "/cache",
                  "XDG_CONFIG_HOME", folder + "/config"));
      builder.environment().putAll(environment);
      Process process = builder.start();
      process.getOutputStream().close();
      if (!process.waitFor(5, TimeUnit.MINUTES)) {
        process.destroyForcibly();
        throw new IOException("no end: " + command);
      }
      return new Result(process.exitValue(), text(out), text(err));
    } finally {
      out.delete();
      err.delete();
    }
  }

  private static String text(File file) throws IOException {
    return java.nio.file.Files.readString(file.toPath(), StandardCharsets.UTF_8);
  }
}
