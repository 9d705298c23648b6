package lipsanon.capture.dotnet;

import java.io.IOException;
import java.nio.BufferUnderflowException;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.channels.FileChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import lipsanon.capture.CodeFile;

/**
 * What a program of one file carries within it. The format is that of the runtime's hosts since
 * version 6:
 *
 * <pre>
 * Program --> ..., place of Head i8, mark (the SHA-256 of ".net core bundle\n"), ..., Head
 * Head    --> major u4, minor u4, count i4, id text, i8 × 5, File × count
 * File    --> place i8, bytes i8, compressed bytes i8 (0: as it is), kind u1, name text
 * text    --> length (7 bits a byte, low ones first, the 8th: more follow), UTF-8
 * </pre>
 */
final class Bundle {
  private static final String MARKED = ".net core bundle\n";
  private static final int FIRST_VERSION = 6;
  private static final int LIST_BYTES = 40;
  private static final int MOST_FILES = 5000;
  private static final int LONGEST_HEAD = 4 << 20;
  private static final int LONGEST_NAME = 4096;

  /** The mark stands in the host, which comes first. */
  private static final long HOST_BYTES = 64 << 20;

  private static final int STEP = 1 << 20;

  private Bundle() {}

  /**
   * Lists the files within a program; none if it carries none.
   *
   * @throws IOException if it cannot be read
   */
  static List<CodeFile> files(Path program) throws IOException {
    try (FileChannel in = FileChannel.open(program, StandardOpenOption.READ)) {
      long head = head(in);
      if (head <= 0 || head >= in.size()) {
        return List.of();
      }
      ByteBuffer list = bytes(in, head, (int) Math.min(LONGEST_HEAD, in.size() - head));
      try {
        return list(program, in.size(), list);
      } catch (BufferUnderflowException | IllegalArgumentException e) {
        // ends early: what looks like a list is none
        return List.of();
      }
    }
  }

  private static List<CodeFile> list(Path program, long size, ByteBuffer in) {
    List<CodeFile> files = new ArrayList<>();
    int version = in.getInt();
    in.getInt();
    int count = in.getInt();
    if (version < FIRST_VERSION || count < 0 || count > MOST_FILES) {
      return files;
    }
    text(in);
    in.position(in.position() + LIST_BYTES);
    for (int i = 0; i < count; i++) {
      long place = in.getLong();
      long bytes = in.getLong();
      long packed = in.getLong();
      in.get();
      String name = text(in);
      long there = packed == 0 ? bytes : packed;
      if (place > 0 && bytes >= 0 && there >= 0 && there <= size - place) {
        files.add(new CodeFile(program, name, place, bytes, packed));
      }
    }
    return files;
  }

  private static String text(ByteBuffer in) {
    int length = 0;
    int shift = 0;
    byte part;
    do {
      part = in.get();
      length |= (part & 0x7f) << shift;
      shift += 7;
    } while (part < 0 && shift < Integer.SIZE);
    if (length < 0 || length > LONGEST_NAME) {
      throw new IllegalArgumentException();
    }
    byte[] bytes = new byte[length];
    in.get(bytes);
    return new String(bytes, StandardCharsets.UTF_8);
  }

  /** Where the list begins; 0: nothing is within it. */
  private static long head(FileChannel in) throws IOException {
    byte[] mark = mark();
    int before = Long.BYTES;
    long end = Math.min(HOST_BYTES, in.size());
    for (long from = 0; from < end; from += STEP) {
      // pieces overlap, so that a mark stands whole in one
      ByteBuffer piece = bytes(in, from, (int) Math.min(STEP + before + mark.length, end - from));
      byte[] all = piece.array();
      for (int at = before; at + mark.length <= piece.limit(); at++) {
        if (all[at] == mark[0] && Arrays.equals(all, at, at + mark.length, mark, 0, mark.length)) {
          return piece.getLong(at - before);
        }
      }
    }
    return 0;
  }

  private static byte[] mark() {
    try {
      return MessageDigest.getInstance("SHA-256").digest(MARKED.getBytes(StandardCharsets.UTF_8));
    } catch (NoSuchAlgorithmException e) {
      throw new IllegalStateException("every Java platform has SHA-256", e);
    }
  }

  private static ByteBuffer bytes(FileChannel in, long from, int length) throws IOException {
    ByteBuffer bytes = ByteBuffer.allocate(length).order(ByteOrder.LITTLE_ENDIAN);
    while (bytes.hasRemaining() && in.read(bytes, from + bytes.position()) >= 0) {
      continue;
    }
    return bytes.flip();
  }
}
