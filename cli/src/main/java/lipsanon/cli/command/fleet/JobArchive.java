package lipsanon.cli.command.fleet;

import java.io.IOException;
import java.net.URISyntaxException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import lipsanon.cli.UsageException;

/**
 * Where the job for a cluster is: in a package beside the other archives, else where it is built.
 */
final class JobArchive {
  private static final String NAME = "lipsanon-fleet-spark-";

  private JobArchive() {}

  static Path find() throws IOException {
    Path lib;
    try {
      lib =
          Path.of(JobArchive.class.getProtectionDomain().getCodeSource().getLocation().toURI())
              .getParent();
    } catch (URISyntaxException e) {
      throw new IOException(e);
    }
    // cli/target/app, or cli/target/classes while testing
    Path root = lib.resolve("../../../fleet-spark/target").normalize();
    Path classes = lib.resolve("../../fleet-spark/target").normalize();
    for (Path folder : List.of(lib.resolve("cluster"), root, classes)) {
      if (Files.isDirectory(folder)) {
        try (Stream<Path> files = Files.list(folder)) {
          Optional<Path> job = files.filter(JobArchive::isJob).sorted().findFirst();
          if (job.isPresent()) {
            return job.get();
          }
        }
      }
    }
    throw new UsageException(
        "--on: the job for a cluster is not built yet: mvn -q -pl fleet-spark -am package"
            + " -DskipTests");
  }

  private static boolean isJob(Path file) {
    String name = file.getFileName().toString();
    return name.startsWith(NAME) && name.endsWith(".jar");
  }
}
