package lipsanon.capture.dotnet;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.security.SecureRandom;
import java.time.Duration;
import java.util.HexFormat;
import lipsanon.capture.CaptureException;
import lipsanon.capture.CaptureOptions;
import lipsanon.capture.CaptureProgress;
import lipsanon.capture.CaptureResult;
import lipsanon.capture.CheckedCapture;
import lipsanon.capture.Destination;

/**
 * Has a .NET runtime write the memory of its process as a Linux core dump. The runtime's own dumper
 * does it, a process that the target starts: the target stands still meanwhile, and the dumper's
 * lines go to the target's own output.
 */
final class DotnetDump {
  private static final int CREATE_CORE_DUMP = 1;
  private static final int WITH_HEAP = 2;
  private static final int FULL = 4;

  /** A busy process is often caught while objects are moved: seen in half of the dumps. */
  private static final int ATTEMPTS = 5;

  private static final int NAME_BYTES = 12;
  private static final Duration PATIENCE = Duration.ofMinutes(10);

  private final long pid;
  private final DiagnosticPort port;
  private final CheckedCapture.SnapshotCheck check;

  DotnetDump(long pid, DiagnosticPort port, CheckedCapture.SnapshotCheck check) {
    this.pid = pid;
    this.port = port;
    this.check = check;
  }

  /** Opens a session that forces a collection, and returns once that is done. */
  interface Collection {
    TraceSession force() throws CaptureException;
  }

  CaptureResult write(CaptureOptions options, CaptureProgress progress, Collection collection)
      throws CaptureException {
    Destination destination = Destination.of(options);
    long start = System.nanoTime();
    String missing = "";
    int type = WITH_HEAP;
    for (int i = 0; i < ATTEMPTS; i++) {
      Path temporary = destination.partName();
      try (Destination.Part part = destination.part(temporary)) {
        progress.at("the target stands still while its memory is written", 0, 0);
        if (options.all()) {
          type = ask(temporary, type);
        } else {
          TraceSession session = collection.force();
          try {
            type = ask(temporary, type);
          } finally {
            // its end forces another one: after the dump
            session.close();
          }
        }
        progress.at("looking at the dump", 0, 0);
        missing = check.missing(temporary);
        if (missing.isEmpty()) {
          part.finish();
          long millis = (System.nanoTime() - start) / 1_000_000;
          return new CaptureResult(options.file(), Files.size(destination.file()), millis, -1, -1);
        }
        progress.at("its objects could not be told apart; once more", 0, 0);
      } catch (CaptureException e) {
        throw Files.isDirectory(Path.of("/proc/" + pid))
            ? e
            : new CaptureException("process " + pid + " vanished while it was dumped", e);
      } catch (IOException e) {
        throw new CaptureException(
            "the dump could not be written to " + destination.file() + ": " + e.getMessage(), e);
      }
    }
    throw new CaptureException(
        "process "
            + pid
            + " gave no dump that can be read, in "
            + ATTEMPTS
            + " attempts: "
            + missing);
  }

  /** Has it written; the kind that it could be written as. */
  private int ask(Path file, int type) throws IOException {
    boolean elsewhere = !sameFiles();
    // in a container the target writes to its own folder for temporary files
    Path inside = elsewhere ? Path.of("/tmp", ".lipsanon-" + random() + ".part") : file;
    Path seen = elsewhere ? Path.of("/proc/" + pid + "/root" + inside) : file;
    try {
      CaptureException refusal = null;
      try {
        request(inside, type);
      } catch (CaptureException e) {
        refusal = e;
      }
      if (type == WITH_HEAP && !Files.isRegularFile(seen, LinkOption.NOFOLLOW_LINKS)) {
        // programs that are one file cannot be dumped with the heap alone, and some say they were
        type = FULL;
        refusal = null;
        request(inside, type);
      }
      if (refusal != null) {
        throw refusal;
      }
      if (!Files.isRegularFile(seen, LinkOption.NOFOLLOW_LINKS)) {
        throw new CaptureException(
            "process "
                + pid
                + " says that its dump was written, but there is none: may it write to "
                + inside.getParent()
                + ", and trace itself (the dumper needs that)?");
      }
      if (elsewhere) {
        Files.copy(seen, file, StandardCopyOption.REPLACE_EXISTING);
      }
      return type;
    } finally {
      if (elsewhere) {
        Files.deleteIfExists(seen);
      }
    }
  }

  /** That folder is everybody's: nobody may foresee the name. */
  private static String random() {
    byte[] bytes = new byte[NAME_BYTES];
    new SecureRandom().nextBytes(bytes);
    return HexFormat.of().formatHex(bytes);
  }

  private boolean sameFiles() {
    try {
      return Files.readSymbolicLink(Path.of("/proc/" + pid + "/ns/mnt"))
          .equals(Files.readSymbolicLink(Path.of("/proc/self/ns/mnt")));
    } catch (IOException e) {
      return true;
    }
  }

  private void request(Path file, int type) throws CaptureException {
    ByteArrayOutputStream payload = new ByteArrayOutputStream();
    DiagnosticPort.text(payload, file.toString());
    DiagnosticPort.int4(payload, type);
    DiagnosticPort.int4(payload, 0);
    try {
      port.ask(DiagnosticPort.SET_DUMP, CREATE_CORE_DUMP, payload.toByteArray(), PATIENCE);
    } catch (CaptureException e) {
      throw new CaptureException(
          "process "
              + pid
              + " could not be dumped to "
              + file
              + " ("
              + e.getMessage()
              + "): its dumper, createdump, stands beside its libcoreclr.so and needs the right to"
              + " trace it",
          e);
    }
  }
}
