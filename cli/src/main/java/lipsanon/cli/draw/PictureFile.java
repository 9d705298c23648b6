package lipsanon.cli.draw;

import java.io.IOException;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;

/** Writes a file whole or not at all. */
public final class PictureFile {
  private PictureFile() {}

  /** Writes what a file should hold. */
  public interface Content {
    /** Writes all. */
    void to(OutputStream out) throws IOException;
  }

  /** Writes a file; one that exists is replaced. */
  public static void write(Path file, Content content) throws IOException {
    Path folder = file.toAbsolutePath().getParent();
    if (!Files.isDirectory(folder)) {
      throw new java.nio.file.NoSuchFileException(folder.toString());
    }
    Path temporary = Files.createTempFile(folder, ".picture-", ".tmp");
    try {
      try (OutputStream out = Files.newOutputStream(temporary)) {
        content.to(out);
      }
      Files.move(temporary, file, StandardCopyOption.REPLACE_EXISTING);
    } finally {
      Files.deleteIfExists(temporary);
    }
  }
}
