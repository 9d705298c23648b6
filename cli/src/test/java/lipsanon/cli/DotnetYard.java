package lipsanon.cli;

import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.io.BufferedReader;
import java.io.File;
import java.io.IOException;
import java.io.PrintWriter;
import java.nio.channels.FileChannel;
import java.nio.channels.FileLock;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/** A .NET process that does what it is told. */
final class DotnetYard implements AutoCloseable {
  private static final Path ROOT = Path.of("").toAbsolutePath().getParent();
  private static final Path BUILT = Path.of("target/dotnet").toAbsolutePath();

  final Process process;
  private final BufferedReader out;
  private final PrintWriter in;

  /** A program that answers {@code ready} first; words like DOTNET_X=1 go to its environment. */
  DotnetYard(Path program, String... args) throws IOException {
    List<String> command = new ArrayList<>(List.of(program.toString()));
    Map<String, String> variables = new HashMap<>();
    for (String arg : args) {
      if (arg.startsWith("DOTNET_")) {
        variables.put(arg.substring(0, arg.indexOf('=')), arg.substring(arg.indexOf('=') + 1));
      } else if (!arg.isEmpty()) {
        command.add(arg);
      }
    }
    ProcessBuilder builder =
        new ProcessBuilder(command).redirectError(ProcessBuilder.Redirect.DISCARD);
    builder.environment().put("DOTNET_ROOT", runtime().toString());
    builder.environment().putAll(variables);
    process = builder.start();
    out = process.inputReader(StandardCharsets.UTF_8);
    in = new PrintWriter(process.outputWriter(StandardCharsets.UTF_8), true);
    out.readLine();
  }

  /**
   * The folder of the runtime that `tools/dotnet` prepares; where there is none, tests are skipped.
   */
  static Path runtime() throws IOException {
    Process tool =
        new ProcessBuilder(ROOT.resolve("tools/dotnet").toString())
            .redirectError(ProcessBuilder.Redirect.INHERIT)
            .start();
    String line = tool.inputReader().readLine();
    try {
      assumeTrue(tool.waitFor() == 0, "NO .NET RUNTIME: the tests of .NET are skipped");
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new IOException(e);
    }
    return Path.of(line);
  }

  /** Compiles a program; once for all tests, those in another process too. */
  static synchronized Path build(String name, Path source) throws IOException {
    runtime();
    Files.createDirectories(BUILT);
    try (FileChannel lock =
            FileChannel.open(
                BUILT.resolve(name + ".lock"),
                StandardOpenOption.CREATE,
                StandardOpenOption.WRITE);
        FileLock alone = lock.lock()) {
      assert alone.isValid();
      return compiled(name, source);
    }
  }

  private static Path compiled(String name, Path source) throws IOException {
    Path program = BUILT.resolve(name + "/" + name);
    if (Files.exists(program)
        && Files.getLastModifiedTime(program).compareTo(Files.getLastModifiedTime(source)) > 0) {
      return program;
    }
    File log = File.createTempFile("dotnet-build", ".log");
    Process tool =
        new ProcessBuilder(
                ROOT.resolve("tools/dotnet-build").toString(),
                name,
                program.getParent().toString(),
                source.toString())
            .redirectErrorStream(true)
            .redirectOutput(log)
            .start();
    try {
      if (tool.waitFor() != 0) {
        throw new IOException(Files.readString(log.toPath()));
      }
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    } finally {
      log.delete();
    }
    return program;
  }

  static Path yard() throws IOException {
    return build("Yard", Path.of("src/test/dotnet/Yard.cs").toAbsolutePath());
  }

  static Path oddities() throws IOException {
    return build("Oddities", Path.of("src/test/dotnet/Oddities.cs").toAbsolutePath());
  }

  static Path portMerrow() throws IOException {
    return build("PortMerrow", ROOT.resolve("demo/src/main/dotnet/PortMerrow.cs"));
  }

  String pid() {
    return Long.toString(process.pid());
  }

  /** Says a line and waits for the answer. */
  String say(String line) throws IOException {
    in.println(line);
    return next();
  }

  /** A further line of an answer; the dumper's own lines on the program's output are left out. */
  String next() throws IOException {
    String line = out.readLine();
    while (line != null && line.startsWith("[createdump]")) {
      line = out.readLine();
    }
    return line;
  }

  @Override
  public void close() {
    process.destroyForcibly();
  }
}
