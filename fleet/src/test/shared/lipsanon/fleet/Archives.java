package lipsanon.fleet;

import java.io.IOException;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.stream.Stream;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;

/** Classes as they are shipped. */
public final class Archives {
  private Archives() {}

  /** Makes an archive of a folder of classes. */
  public static Path archive(Path classes, Path to) throws IOException {
    try (OutputStream out = Files.newOutputStream(to);
        ZipOutputStream zip = new ZipOutputStream(out);
        Stream<Path> files = Files.walk(classes)) {
      for (Path file : files.filter(Files::isRegularFile).toList()) {
        zip.putNextEntry(new ZipEntry(classes.relativize(file).toString()));
        Files.copy(file, zip);
      }
    }
    return to;
  }
}
