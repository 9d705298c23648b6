package lipsanon.snapshot;

import java.io.BufferedOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.channels.FileChannel;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.util.function.Predicate;
import lipsanon.array.Space;
import lipsanon.format.elfcore.ElfCoreReader;
import lipsanon.format.elfcore.ElfCoreRedactor;
import lipsanon.format.hprof.HprofReader;
import lipsanon.format.hprof.HprofRedactor;
import lipsanon.format.nettrace.NettraceReader;
import lipsanon.format.nettrace.NettraceRedactor;
import lipsanon.format.v8.V8Reader;
import lipsanon.format.v8.V8Redactor;
import lipsanon.io.ByteSource;
import lipsanon.io.Progress;
import lipsanon.io.UnsupportedInputException;
import lipsanon.redact.Pseudonyms;
import lipsanon.redact.TextTraces;

/** Copies snapshots without their contents, and checks such copies. */
public final class Redaction {
  private static final int BUFFER = 1 << 18;

  private Redaction() {}

  /**
   * How to copy.
   *
   * @param key for contents that stay equal where they were equal (16 bytes); null for a filler
   * @param flags names of fields whose booleans stay, since they say an object is done with
   */
  public record Options(byte[] key, Predicate<String> flags) {}

  /**
   * What a check found.
   *
   * @param texts how many different texts of four bytes and more the original has
   * @param foundAt where in the copy one of them stands, or -1
   */
  public record Check(long texts, long foundAt) {}

  private enum Format {
    HPROF,
    V8,
    NETTRACE,
    CORE
  }

  /**
   * Copies. The copy appears under its name only when it is whole.
   *
   * @param scratch a folder for what unpacking a compressed snapshot takes
   */
  public static void copy(
      Path original, Path copy, Path scratch, Options options, Progress progress) throws Exception {
    try (ByteSource source = Sources.open(original, scratch, progress)) {
      Format format = format(source);
      progress.phase("copying", source.size());
      Pseudonyms pseudonyms = new Pseudonyms(options.key());
      Path folder = copy.toAbsolutePath().getParent();
      Path temporary = Files.createTempFile(folder, "." + copy.getFileName() + "-", ".tmp");
      try {
        OutputStream out = new BufferedOutputStream(Files.newOutputStream(temporary), BUFFER);
        switch (format) {
          case HPROF -> HprofRedactor.copy(source, out, pseudonyms, options.flags(), progress);
          case V8 -> V8Redactor.copy(source, out, pseudonyms, progress);
          case NETTRACE -> NettraceRedactor.copy(source, out, progress);
          case CORE -> {
            out.close();
            core(source, temporary, pseudonyms, options, scratch, progress);
          }
        }
        try (FileChannel written = FileChannel.open(temporary, StandardOpenOption.WRITE)) {
          written.force(true);
        }
        Files.move(temporary, copy, StandardCopyOption.REPLACE_EXISTING);
      } finally {
        Files.deleteIfExists(temporary);
      }
    }
  }

  /** Looks whether any text of an original stands among the contents of a copy. */
  public static Check check(
      Path original, Path copy, Path scratch, Predicate<String> flags, Progress progress)
      throws Exception {
    TextTraces texts = new TextTraces();
    try (ByteSource before = Sources.open(original, scratch, progress);
        ByteSource after = Sources.open(copy, scratch, progress)) {
      Format format = format(before);
      if (format(after) != format) {
        throw new UnsupportedInputException(
            after.name(), "is no copy of " + before.name() + ": its format is another");
      }
      progress.phase("reading the original's texts", 0);
      switch (format) {
        case HPROF -> HprofRedactor.collect(before, flags, texts);
        case V8 -> V8Redactor.collect(before, texts);
        case NETTRACE -> NettraceRedactor.collect(before, texts);
        case CORE -> ElfCoreRedactor.collect(before, texts);
      }
      progress.phase("looking for them in the copy", 0);
      long found =
          switch (format) {
            case HPROF -> HprofRedactor.find(after, flags, texts);
            case V8 -> V8Redactor.find(after, texts);
            case NETTRACE -> NettraceRedactor.find(after, texts);
            case CORE -> ElfCoreRedactor.find(after, texts);
          };
      return new Check(texts.count(), found);
    }
  }

  private static void core(
      ByteSource source,
      Path target,
      Pseudonyms pseudonyms,
      Options options,
      Path scratch,
      Progress progress)
      throws Exception {
    boolean mapped = Snapshots.needBytes(source.size()) > Runtime.getRuntime().maxMemory() * 0.8;
    try (Space space = mapped ? Space.mapped(scratch) : Space.heap()) {
      ElfCoreRedactor.copy(source, target, pseudonyms, options.flags(), space, progress);
    }
  }

  private static Format format(ByteSource source) throws IOException {
    byte[] head = new byte[64];
    source.read(0, head, 0, head.length);
    if (ElfCoreReader.matches(head)) {
      return Format.CORE;
    }
    if (NettraceReader.matches(head)) {
      return Format.NETTRACE;
    }
    if (HprofReader.matches(head)) {
      return Format.HPROF;
    }
    if (V8Reader.matches(head)) {
      return Format.V8;
    }
    throw new UnsupportedInputException(source.name(), "has a format that is not copied");
  }
}
