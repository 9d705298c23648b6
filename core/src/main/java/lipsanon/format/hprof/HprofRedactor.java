package lipsanon.format.hprof;

import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.function.Predicate;
import lipsanon.io.ByteSource;
import lipsanon.io.Progress;
import lipsanon.io.TruncatedInputException;
import lipsanon.io.Window;
import lipsanon.redact.PatchedCopy;
import lipsanon.redact.PathMask;
import lipsanon.redact.Pseudonyms;
import lipsanon.redact.TextTraces;

/**
 * Copies an HPROF dump without its contents: every record stays where it is, as long as it is, so
 * that graph, sizes and identifiers are the same; only bytes of contents change ({@link
 * HprofContents} says which).
 */
public final class HprofRedactor {
  /** A longer text is looked at in part when copies are checked. */
  private static final int LONGEST_CHECKED = 1 << 16;

  private HprofRedactor() {}

  /**
   * Copies.
   *
   * @param flags names of fields whose booleans stay, since they say an object is done with
   */
  public static void copy(
      ByteSource source,
      OutputStream out,
      Pseudonyms pseudonyms,
      Predicate<String> flags,
      Progress progress)
      throws IOException {
    HprofFile file = HprofFile.scan(source);
    if (file.cutAt >= 0) {
      throw new TruncatedInputException(source.name(), file.cutAt, "the rest of the dump");
    }
    try (PatchedCopy copy = new PatchedCopy(source, out, progress)) {
      new Copy(source, file, flags, copy, pseudonyms).run();
      copy.finish();
    }
  }

  /** Notes all texts of a dump. */
  public static void collect(ByteSource source, Predicate<String> flags, TextTraces texts)
      throws IOException {
    new Reading(source, HprofFile.scan(source), flags) {
      @Override
      void bytes(long position, byte[] bytes, int length) {
        texts.add(bytes, 0, length);
      }
    }.run();
  }

  /**
   * Looks for texts in a copy.
   *
   * @return the position of the first one, or -1
   */
  public static long find(ByteSource source, Predicate<String> flags, TextTraces texts)
      throws IOException {
    long[] found = {-1};
    new Reading(source, HprofFile.scan(source), flags) {
      @Override
      void bytes(long position, byte[] bytes, int length) {
        int at = found[0] < 0 ? texts.find(bytes, 0, length) : -1;
        found[0] = at < 0 ? found[0] : position + at;
      }
    }.run();
    return found[0];
  }

  private static final class Copy extends HprofContents {
    private final PatchedCopy copy;
    private final Pseudonyms pseudonyms;

    Copy(
        ByteSource source,
        HprofFile file,
        Predicate<String> flags,
        PatchedCopy copy,
        Pseudonyms pseudonyms)
        throws IOException {
      super(source, file, flags);
      this.copy = copy;
      this.pseudonyms = pseudonyms;
    }

    @Override
    void elements(long position, int type, int count) throws IOException {
      long length = (long) count * HprofFormat.bytes(type, idSize);
      if (type == HprofFormat.BYTE) {
        change(position, length, pseudonyms::text);
      } else if (type == HprofFormat.CHAR) {
        change(position, length, pseudonyms.keepEquality() ? pseudonyms::values : letters());
      } else if (type == HprofFormat.BOOLEAN) {
        // true and false have no other value: nothing of them is kept
        copy.pieces(position, length, (bytes, from, to) -> zeros(bytes, from, to));
      } else {
        change(position, length, pseudonyms::values);
      }
    }

    private void change(long position, long length, PatchedCopy.Change change) throws IOException {
      if (pseudonyms.keepEquality() && length <= Integer.MAX_VALUE - 16) {
        copy.whole(position, (int) length, change);
      } else {
        copy.pieces(position, length, change);
      }
    }

    private static void zeros(byte[] bytes, int from, int to) {
      Arrays.fill(bytes, from, to, (byte) 0);
    }

    /** Two bytes a character, the upper one first; a piece may begin in the middle of one. */
    private static PatchedCopy.Change letters() {
      long[] done = {0};
      return (bytes, from, to) -> {
        for (int i = from; i < to; i++) {
          bytes[i] = (byte) ((done[0]++ & 1) == 0 ? 0 : Pseudonyms.FILLER);
        }
      };
    }

    private static void fill(byte[] bytes, int from, int to) {
      Arrays.fill(bytes, from, to, (byte) Pseudonyms.FILLER);
    }

    @Override
    void location(long position, int type, int count) throws IOException {
      boolean text = type == HprofFormat.BYTE || type == HprofFormat.CHAR;
      if (!text || count > CodeSources.LONGEST_LOCATION) {
        elements(position, type, count);
        return;
      }
      Charset charset =
          type == HprofFormat.BYTE ? StandardCharsets.ISO_8859_1 : StandardCharsets.UTF_16BE;
      copy.whole(
          position,
          count * HprofFormat.bytes(type, idSize),
          (bytes, from, to) -> {
            String masked = PathMask.of(new String(bytes, from, to - from, charset));
            byte[] written = masked.getBytes(charset);
            System.arraycopy(written, 0, bytes, from, Math.min(written.length, to - from));
          });
    }

    @Override
    void value(long position, int type) throws IOException {
      int width = HprofFormat.bytes(type, idSize);
      if (!pseudonyms.keepEquality() || type == HprofFormat.BOOLEAN) {
        copy.pieces(position, width, Copy::zeros);
        return;
      }
      copy.whole(
          position,
          width,
          (bytes, from, to) -> {
            long value = 0;
            for (int i = from; i < to; i++) {
              value = value << 8 | bytes[i] & 0xff;
            }
            value = pseudonyms.number(value, width);
            for (int i = to - 1; i >= from; i--) {
              bytes[i] = (byte) value;
              value >>>= 8;
            }
          });
    }

    @Override
    void text(long position, int length) throws IOException {
      copy.pieces(position, length, Copy::fill);
    }
  }

  /** Reads what contents there are. */
  private abstract static class Reading extends HprofContents {
    private final Window reading;

    Reading(ByteSource source, HprofFile file, Predicate<String> flags) throws IOException {
      super(source, file, flags);
      this.reading = new Window(source, LONGEST_CHECKED);
    }

    abstract void bytes(long position, byte[] bytes, int length);

    @Override
    void elements(long position, int type, int count) throws IOException {
      if (type == HprofFormat.BYTE || type == HprofFormat.CHAR) {
        text(
            position,
            (int) Math.min(LONGEST_CHECKED, (long) count * HprofFormat.bytes(type, idSize)));
      }
    }

    @Override
    void location(long position, int type, int count) {
      // a name of code
    }

    @Override
    void value(long position, int type) {
      // too short for a text
    }

    @Override
    void text(long position, int length) throws IOException {
      int size = Math.min(length, LONGEST_CHECKED);
      reading.seek(position, source.size());
      reading.need(size);
      byte[] some = new byte[size];
      reading.copy(some, 0, size);
      bytes(position, some, size);
    }
  }
}
