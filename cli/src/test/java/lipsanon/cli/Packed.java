package lipsanon.cli;

import java.io.File;
import java.io.IOException;
import java.io.OutputStream;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.stream.Stream;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;
import lipsanon.fleet.ChildTask;

/**
 * The program under test as it is shipped: its classes in archives, and what commands load of them
 * prepared for the JVM, which halves the time that each of hundreds of runs takes to start.
 */
final class Packed {
  private static final Packed PROGRAM = new Packed();

  private final List<String> start;

  private Packed() {
    try {
      Path folder = Files.createTempDirectory("lipsanon-packed-");
      Runtime.getRuntime().addShutdownHook(new Thread(() -> delete(folder)));
      String path = archives(folder);
      Path prepared = folder.resolve("classes.jsa");
      Process training =
          new ProcessBuilder(
                  java(),
                  "-Xlog:disable",
                  "-XX:+UseSerialGC",
                  "-XX:TieredStopAtLevel=1",
                  "-XX:ArchiveClassesAtExit=" + prepared,
                  "-cp",
                  path,
                  Training.class.getName())
              .redirectErrorStream(true)
              .redirectOutput(folder.resolve("training.txt").toFile())
              .start();
      if (training.waitFor() != 0 || !Files.exists(prepared)) {
        throw new IOException(Files.readString(folder.resolve("training.txt")));
      }
      start =
          List.of(
              "-Xlog:disable", "-Xshare:auto", "-XX:SharedArchiveFile=" + prepared, "-cp", path);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    } catch (InterruptedException e) {
      throw new IllegalStateException(e);
    }
  }

  /** A command that runs the program, without its arguments. */
  static List<String> command(String... flags) {
    List<String> command = new ArrayList<>(List.of(java()));
    // as the launcher starts it for what is soon over
    command.addAll(ChildTask.SHORT_LIFE);
    command.addAll(List.of(flags));
    command.addAll(PROGRAM.start);
    command.add("lipsanon.cli.Main");
    return command;
  }

  /** A command for the shell that runs the program, without its arguments. */
  static String shellCommand(String... flags) {
    return "'" + String.join("' '", command(flags)) + "'";
  }

  private static String java() {
    return Path.of(System.getProperty("java.home"), "bin/java").toString();
  }

  /** The class path of the tests without the tests, folders made into archives. */
  private static String archives(Path folder) throws IOException {
    List<String> path = new ArrayList<>();
    for (String entry : System.getProperty("java.class.path").split(File.pathSeparator)) {
      if (!Files.isDirectory(Path.of(entry))) {
        path.add(entry);
      } else if (!entry.endsWith("test-classes")) {
        path.add(archive(Path.of(entry), folder.resolve(path.size() + ".jar")).toString());
      }
    }
    return String.join(File.pathSeparator, path);
  }

  private static Path archive(Path classes, Path to) throws IOException {
    try (OutputStream out = Files.newOutputStream(to);
        ZipOutputStream zip = new ZipOutputStream(out);
        Stream<Path> files = Files.walk(classes)) {
      zip.setLevel(1);
      for (Path file : files.filter(Files::isRegularFile).sorted().toList()) {
        zip.putNextEntry(new ZipEntry(classes.relativize(file).toString()));
        Files.copy(file, zip);
      }
    }
    return to;
  }

  private static void delete(Path folder) {
    try (Stream<Path> files = Files.walk(folder)) {
      for (Path file : files.sorted(Comparator.reverseOrder()).toList()) {
        Files.delete(file);
      }
    } catch (IOException e) {
      // it lies among the temporary files
    }
  }
}
