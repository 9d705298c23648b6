package lipsanon.format.hprof;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.ByteArrayOutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.Arrays;
import java.util.Random;
import java.util.zip.GZIPOutputStream;
import lipsanon.array.Space;
import lipsanon.index.Snapshot;
import lipsanon.index.SnapshotContent;
import lipsanon.io.BytesSource;
import lipsanon.io.InputException;
import lipsanon.io.Progress;
import lipsanon.io.TruncatedInputException;
import lipsanon.snapshot.Snapshots;
import org.junit.jupiter.api.Assertions;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * Dumps cut anywhere and with any byte changed: clear errors or a marked part, and nothing else.
 */
class DamagedInputTest {
  private static final int FLIPS = 2_500;

  @TempDir Path folder;

  /** Null if the dump was refused with a clear error. */
  private static SnapshotContent read(byte[] dump) throws Exception {
    try {
      SnapshotContent content =
          HprofReader.read(new BytesSource("damaged", dump), Space.heap(), false, Progress.NONE);
      lipsanon.graph.Reachability.compute(content.graph(), Space.heap(), Progress.NONE);
      return content;
    } catch (InputException e) {
      assertThat(e.getMessage()).doesNotContain("\n").startsWith("damaged");
      return null;
    }
  }

  @Test
  void cutAtEveryByte() throws Exception {
    byte[] whole = HprofBuilder.sample(8);
    int parts = 0;
    int most = 0;
    for (int length = 0; length < whole.length; length++) {
      SnapshotContent content = read(Arrays.copyOf(whole, length));
      if (content != null) {
        assertThat(content.facts().partial()).as("cut at %d", length).isTrue();
        assertThat(content.facts().warnings().get(0)).contains("cut off at byte");
        assertThat(content.graph().count).isGreaterThanOrEqualTo(most);
        most = content.graph().count;
        parts++;
      }
    }
    assertThat(parts).isGreaterThan(whole.length / 2);
    assertThat(read(whole).facts().partial()).isFalse();
  }

  @Test
  void bytesFlippedAtRandom() {
    byte[] whole = HprofBuilder.sample(8);
    long seed = Long.getLong("lipsanon.seed", 77);
    Random random = new Random(seed);
    Assertions.assertTimeoutPreemptively(
        Duration.ofMinutes(15),
        () -> {
          for (int i = 0; i < FLIPS; i++) {
            byte[] changed = whole.clone();
            int at = random.nextInt(changed.length);
            byte value = (byte) random.nextInt();
            changed[at] = value;
            if (random.nextInt(3) == 0) {
              changed[random.nextInt(changed.length)] = (byte) 0xff;
            }
            try {
              read(changed);
            } catch (Throwable e) {
              throw new AssertionError(
                  "byte " + at + " set to " + value + "; rerun with -Dlipsanon.seed=" + seed, e);
            }
          }
        });
  }

  @Test
  void strictRefusesWhatIsCutOff() throws Exception {
    byte[] whole = HprofBuilder.sample(8);
    Path file = folder.resolve("cut.hprof");
    Files.write(file, Arrays.copyOf(whole, whole.length - 20));
    Snapshots.Options strict = new Snapshots.Options(null, folder, true, 1L << 30);
    assertThatThrownBy(() -> Snapshots.open(file, strict, Progress.NONE))
        .isInstanceOf(TruncatedInputException.class);
    Snapshots.Options lenient = new Snapshots.Options(null, folder, false, 1L << 30);
    try (Snapshot s = Snapshots.open(file, lenient, Progress.NONE)) {
      assertThat(s.facts().partial()).isTrue();
    }
    assertThatThrownBy(() -> Snapshots.open(file, strict, Progress.NONE))
        .isInstanceOf(InputException.class)
        .hasMessageContaining("--strict");
  }

  @Test
  void compressedDumpsInOneOrManyMembers() throws Exception {
    byte[] whole = HprofBuilder.sample(8);
    ByteArrayOutputStream one = new ByteArrayOutputStream();
    try (GZIPOutputStream gzip = new GZIPOutputStream(one)) {
      gzip.write(whole);
    }
    ByteArrayOutputStream many = new ByteArrayOutputStream();
    for (int at = 0; at < whole.length; at += 100) {
      GZIPOutputStream gzip = new GZIPOutputStream(many);
      gzip.write(whole, at, Math.min(100, whole.length - at));
      gzip.finish();
    }
    for (byte[] compressed : new byte[][] {one.toByteArray(), many.toByteArray()}) {
      Path file = Files.createTempFile(folder, "c", ".hprof.gz");
      Files.write(file, compressed);
      Snapshots.Options options = new Snapshots.Options(null, folder, true, 1L << 30);
      for (int opened = 0; opened < 2; opened++) {
        try (Snapshot s = Snapshots.open(file, options, Progress.NONE)) {
          assertThat(s.objectCount()).isEqualTo(23);
          assertThat(s.objects().fields(s.nodeOf(0x4600), 9).get(0).value()).isEqualTo("12");
        }
      }
      Files.write(file, Arrays.copyOf(compressed, compressed.length * 2 / 3));
      try (Snapshot s =
          Snapshots.open(
              file, new Snapshots.Options(null, folder, false, 1L << 30), Progress.NONE)) {
        assertThat(s.facts().partial()).isTrue();
      } catch (InputException e) {
        assertThat(e.getMessage()).contains(file.toString());
      }
    }
  }
}
