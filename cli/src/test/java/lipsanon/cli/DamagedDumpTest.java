package lipsanon.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Random;
import java.util.concurrent.TimeUnit;
import lipsanon.array.Space;
import lipsanon.capture.CaptureOptions;
import lipsanon.capture.CaptureProgress;
import lipsanon.capture.dotnet.DotnetCapture;
import lipsanon.format.elfcore.ElfCoreReader;
import lipsanon.index.SnapshotContent;
import lipsanon.io.InputException;
import lipsanon.io.Progress;
import lipsanon.io.UnsupportedInputException;
import lipsanon.snapshot.Snapshots;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.io.TempDir;

/** Core dumps that are cut, damaged, or of something else. */
class DamagedDumpTest {
  /** More are tried by -Dlipsanon.damage=N. */
  private static final int TRIES = Integer.getInteger("lipsanon.damage", 150);

  private static final int PAGE = 4096;

  @TempDir static Path folder;

  private static byte[] slim;

  @BeforeAll
  static void dump() throws Exception {
    Path file = folder.resolve("whole.core");
    try (DotnetYard yard = new DotnetYard(DotnetYard.oddities());
        DotnetCapture capture = DotnetCapture.connect(yard.process.pid())) {
      capture.check(Snapshots::missing);
      capture.dump(new CaptureOptions(file, false, false, false), CaptureProgress.NONE);
    }
    slim = SlimDump.of(Files.readAllBytes(file));
    Files.delete(file);
  }

  private static SnapshotContent read(byte[] bytes, int length) throws Exception {
    return ElfCoreReader.read(new SlimDump.Bytes(bytes, length), Space.heap(), Progress.NONE);
  }

  /** Reads it; whatever comes out says so in the terms of input errors, and soon. */
  private static String outcome(byte[] bytes, int length) throws Exception {
    long start = System.nanoTime();
    String outcome;
    try {
      SnapshotContent content = read(bytes, length);
      outcome = content.facts().partial() ? "partial" : "read";
    } catch (InputException e) {
      assertThat(e.getMessage()).contains("slim.core").doesNotContain("\n");
      outcome = "refused";
    }
    assertThat(System.nanoTime() - start).isLessThan(TimeUnit.SECONDS.toNanos(60));
    return outcome;
  }

  @Test
  void theSlimDumpIsWhole() throws Exception {
    SnapshotContent content = read(slim, slim.length);
    assertThat(content.facts().partial()).isFalse();
    assertThat(content.graph().count).isGreaterThan(3000);
    System.out.println("  a dump of " + slim.length / 1_000_000 + " MB, " + content.graph().count);
  }

  @Test
  @Timeout(600)
  void cutAnywhere() throws Exception {
    int pages = slim.length / PAGE;
    int partial = 0;
    int step = Math.max(1, pages / TRIES);
    for (int page = 0; page < pages; page += step) {
      partial += outcome(slim, page * PAGE).equals("partial") ? 1 : 0;
    }
    for (int length : new int[] {0, 1, 5, 16, 63, 64, 100, 64 + 56, 4096}) {
      assertThat(outcome(slim, length)).isEqualTo("refused");
    }
    // the heap stands at the end: what is there is told, and that it is not all
    assertThat(outcome(slim, slim.length - PAGE)).isEqualTo("partial");
    assertThat(partial).isPositive();
  }

  @Test
  @Timeout(3000)
  void damagedAnywhere() throws Exception {
    long seed = Long.getLong("lipsanon.seed", 20261127L);
    Random random = new Random(seed);
    for (int i = 0; i < TRIES; i++) {
      byte[] bytes = slim.clone();
      int places = 1 + random.nextInt(4);
      StringBuilder what = new StringBuilder("seed " + seed + ", try " + i + ":");
      for (int p = 0; p < places; p++) {
        int at = random.nextInt(random.nextInt(3) == 0 ? 1 << 16 : bytes.length);
        switch (random.nextInt(3)) {
          case 0 -> bytes[at] ^= (byte) (1 << random.nextInt(8));
          case 1 -> bytes[at] = (byte) random.nextInt();
          default -> {
            // a whole word: zero, all ones, or another one of the dump
            int word = Math.min(bytes.length - 8, at) & ~7;
            ByteBuffer buffer = ByteBuffer.wrap(bytes).order(ByteOrder.LITTLE_ENDIAN);
            int other = random.nextInt(bytes.length - 8) & ~7;
            long value = random.nextInt(3) == 0 ? -random.nextInt(2) : buffer.getLong(other);
            buffer.putLong(word, value);
          }
        }
        what.append(' ').append(at);
      }
      try {
        outcome(bytes, bytes.length);
      } catch (Throwable e) {
        throw new AssertionError(what.toString(), e);
      }
    }
  }

  private static byte[] with(String text, String other) {
    byte[] from = text.getBytes(StandardCharsets.ISO_8859_1);
    byte[] to = other.getBytes(StandardCharsets.ISO_8859_1);
    assertThat(to).hasSameSizeAs(from);
    byte[] bytes = slim.clone();
    boolean any = false;
    for (int i = 0; i + from.length <= bytes.length; i++) {
      int k = 0;
      while (k < from.length && bytes[i + k] == from[k]) {
        k++;
      }
      if (k == from.length) {
        System.arraycopy(to, 0, bytes, i, to.length);
        any = true;
      }
    }
    assertThat(any).isTrue();
    return bytes;
  }

  @Test
  void ofSomethingElse() throws Exception {
    refused(
        with("App/9.0.1/libcoreclr.so", "App/8.0.4/libcoreclr.so"),
        "is of .NET 8.0.4; versions from 9 on");
    refused(with("/libcoreclr.so", "/ld-musl-x.so1"), "musl");
    refused(with("/libcoreclr.so", "/libsomethi.so"), "without a .NET runtime");
    byte[] arm = slim.clone();
    arm[18] = (byte) 183;
    refused(arm, "another processor");
    byte[] library = slim.clone();
    library[16] = 3;
    refused(library, "is a program or library");
  }

  private static void refused(byte[] bytes, String why) {
    assertThatThrownBy(() -> read(bytes, bytes.length))
        .isInstanceOf(UnsupportedInputException.class)
        .hasMessageContaining(why);
  }

  @Test
  void withoutTheRuntimesFile() throws Exception {
    SnapshotContent with = read(slim, slim.length);
    byte[] elsewhere =
        with(
            "/lipsanon/dotnet-9.0.1/shared/Microsoft.NETCore.App/9.0.1/libcoreclr",
            "/lipsanon/dotnet-x.y.z/shared/Microsoft.NETCore.App/9.0.1/libcoreclr");
    SnapshotContent without = read(elsewhere, elsewhere.length);
    assertThat(without.graph().count).isEqualTo(with.graph().count);
    assertThat(without.roots()).isEqualTo(with.roots());
    assertThat(without.types()).isEqualTo(with.types());
  }
}
