package lipsanon.snapshot;

import java.io.IOException;
import java.nio.file.Path;
import java.util.Arrays;
import lipsanon.format.elfcore.ElfCoreReader;
import lipsanon.format.hprof.HprofReader;
import lipsanon.format.jfr.FlightFormat;
import lipsanon.format.light.LightFormat;
import lipsanon.format.light.SeriesFormat;
import lipsanon.format.nettrace.NettraceReader;
import lipsanon.format.v8.V8Reader;
import lipsanon.io.ByteSource;
import lipsanon.io.FileSource;
import lipsanon.io.GzipSource;
import lipsanon.io.Progress;
import lipsanon.io.UnsupportedInputException;

/** Opens the bytes of a snapshot, compressed or not. */
final class Sources {
  /** In the index folder: where the members of a compressed snapshot begin. */
  private static final String GZIP_TABLE = "members";

  private Sources() {}

  /** Where the members of a compressed snapshot are noted. */
  static Path table(Path folder) {
    return folder.resolve(GZIP_TABLE);
  }

  static ByteSource open(Path file, Path folder, Progress progress) throws IOException {
    byte[] head = Snapshots.head(file);
    if (GzipSource.matches(head)) {
      GzipSource unpacked = GzipSource.open(file, folder.resolve(GZIP_TABLE), progress);
      byte[] inner = new byte[64];
      int got = unpacked.read(0, inner, 0, inner.length);
      known(file, Arrays.copyOf(inner, got), " (gzip-compressed)");
      return unpacked;
    }
    known(file, head, "");
    return new FileSource(file);
  }

  private static void known(Path file, byte[] head, String note) throws IOException {
    if (LightFormat.matches(head) || SeriesFormat.matches(head)) {
      throw new UnsupportedInputException(
          file.toString(), "has no objects, only counts of types: diff, growth and prove take it");
    }
    if (FlightFormat.matches(head)) {
      throw new UnsupportedInputException(
          file.toString(), "is a recording of allocations, not a snapshot: origins reads it");
    }
    if (!HprofReader.matches(head)
        && !V8Reader.matches(head)
        && !NettraceReader.matches(head)
        && !ElfCoreReader.matches(head)) {
      throw new UnsupportedInputException(
          file.toString(),
          "is no heap snapshot that Lipsanon reads: at byte 0"
              + note
              + " stands neither \"JAVA PROFILE 1.0.2\" (a JVM heap dump) nor {\"snapshot\": (a V8 heap"
              + " snapshot) nor \"Nettrace\" (a .NET event stream) nor an ELF header (a core dump of"
              + " .NET); `lipsanon capture` makes each");
    }
  }
}
