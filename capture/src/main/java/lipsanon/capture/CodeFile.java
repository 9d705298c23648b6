package lipsanon.capture;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.zip.Inflater;
import java.util.zip.InflaterInputStream;

/**
 * A file of code that a process has loaded: one of its own, or a part of another.
 *
 * @param file where it stands, as this process can open it
 * @param name how it is called, with its ending
 * @param place where in the file it begins, in bytes; 0 where it is all of it
 * @param bytes how long it is; -1: to the end of the file
 * @param packed how many bytes of the file it takes if it is compressed ("deflate", RFC 1951); else
 *     0
 */
public record CodeFile(Path file, String name, long place, long bytes, long packed) {
  private static final long LARGEST = 256 << 20;

  /** A file of its own. */
  public static CodeFile of(Path file) {
    return new CodeFile(file, String.valueOf(file.getFileName()), 0, -1, 0);
  }

  /**
   * Reads it.
   *
   * @throws IOException if it is gone, not to be read, damaged, or longer than code is
   */
  public byte[] read() throws IOException {
    // what stands in the place of a file by now may be anything
    if (!Files.isRegularFile(file)) {
      throw new IOException(file + " is no file");
    }
    try (FileChannel in = FileChannel.open(file, StandardOpenOption.READ)) {
      long length = bytes < 0 ? in.size() : bytes;
      long there = packed == 0 ? length : packed;
      if (length > LARGEST || there > LARGEST) {
        throw new IOException(name + " is too long");
      }
      ByteBuffer part = ByteBuffer.allocate((int) there);
      while (part.hasRemaining()) {
        if (in.read(part, place + part.position()) < 0) {
          throw new IOException(name + " breaks off");
        }
      }
      return packed == 0 ? part.array() : unpacked(part.array(), (int) length);
    }
  }

  private static byte[] unpacked(byte[] packed, int length) throws IOException {
    Inflater inflater = new Inflater(true);
    try (InflaterInputStream in =
        new InflaterInputStream(new ByteArrayInputStream(packed), inflater)) {
      return in.readNBytes(length);
    } finally {
      inflater.end();
    }
  }
}
