package lipsanon;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.ByteArrayOutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.Random;
import java.util.zip.GZIPOutputStream;
import lipsanon.format.hprof.HprofBuilder;
import lipsanon.format.v8.V8Builder;
import lipsanon.index.Snapshot;
import lipsanon.io.InputException;
import lipsanon.io.Progress;
import lipsanon.snapshot.Snapshots;
import org.junit.jupiter.api.Assertions;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/**
 * Mutated snapshots of every format, from file to index: a clear error, or figures that can be read
 * to the last object; never anything else, never for long. {@code -Dlipsanon.fuzz=100000} runs
 * longer, {@code -Dlipsanon.seed=N} runs others.
 */
class FuzzTest {
  private static final int ROUNDS = Integer.getInteger("lipsanon.fuzz", 250);

  @TempDir Path folder;

  private static byte[] sound(String format) throws Exception {
    byte[] hprof = HprofBuilder.sample(8);
    return switch (format) {
      case "hprof4" -> HprofBuilder.sample(4);
      case "gzip" -> {
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        try (GZIPOutputStream gzip = new GZIPOutputStream(bytes)) {
          gzip.write(hprof);
        }
        yield bytes.toByteArray();
      }
      case "v8" -> {
        V8Builder b = new V8Builder();
        int root = b.node("synthetic", "", 1, 0);
        int one = b.node("object", "Quay", 3, 16);
        int map = b.node("array", "(object elements)", 5, 32);
        for (int i = 0; i < 20; i++) {
          b.edge(map, "element", i, b.node("string", "rope " + i, 7 + 2 * i, 24));
        }
        yield b.edge(root, "element", 1, one).edge(one, "internal", "elements", map).bytes();
      }
      default -> hprof;
    };
  }

  private static byte[] mutated(byte[] sound, Random random) {
    byte[] changed = sound.clone();
    for (int k = random.nextInt(4); k >= 0; k--) {
      int at = random.nextInt(changed.length);
      switch (random.nextInt(5)) {
        case 0 -> changed[at] = (byte) random.nextInt();
        case 1 -> changed[at] ^= (byte) (1 << random.nextInt(8));
        case 2 -> changed = java.util.Arrays.copyOf(changed, Math.max(1, at));
        case 3 -> {
          int from = random.nextInt(changed.length);
          int length = Math.min(changed.length - Math.max(at, from), random.nextInt(64));
          System.arraycopy(changed, from, changed, at, Math.max(0, length));
        }
        default -> {
          byte[] digits = Integer.toString(random.nextInt()).getBytes(StandardCharsets.US_ASCII);
          int length = Math.min(digits.length, changed.length - at);
          System.arraycopy(digits, 0, changed, at, length);
        }
      }
    }
    return changed;
  }

  @ParameterizedTest
  @ValueSource(strings = {"hprof", "hprof4", "gzip", "v8"})
  void mutatedSnapshots(String format) throws Exception {
    byte[] sound = sound(format);
    long seed = Long.getLong("lipsanon.seed", 2026);
    Random random = new Random(seed);
    for (int i = 0; i < ROUNDS; i++) {
      byte[] changed = mutated(sound, random);
      Path file = folder.resolve(format + i);
      Files.write(file, changed);
      try {
        Assertions.assertTimeout(Duration.ofSeconds(20), () -> read(file));
      } catch (Throwable e) {
        Path kept = Files.createTempFile("lipsanon-fuzz-", "." + format);
        Files.write(kept, changed);
        throw new AssertionError(
            "round " + i + " of seed " + seed + "; the file is kept as " + kept, e);
      }
      clear(file);
    }
  }

  private void clear(Path file) throws Exception {
    Path index = folder.resolve(file.getFileName() + ".lipsanon");
    if (Files.isDirectory(index)) {
      try (var files = Files.list(index)) {
        for (Path one : (Iterable<Path>) files::iterator) {
          Files.delete(one);
        }
      }
      Files.delete(index);
    }
    Files.delete(file);
  }

  private void read(Path file) throws Exception {
    Snapshots.Options options = new Snapshots.Options(null, folder, false, 1L << 28);
    try (Snapshot s = Snapshots.open(file, options, Progress.NONE)) {
      long retained = 0;
      for (int n = 0; n < s.objectCount(); n++) {
        retained += s.retainedBytes(n) >= 0 ? 1 : 0;
        s.inbound(n);
        s.objects().references(n, reference -> assertThat(reference.target()).isNotNegative());
        s.objects().label(n, 40);
        s.objects().fields(n, 10);
      }
      assertThat(retained).isEqualTo(s.objectCount());
    } catch (InputException e) {
      assertThat(e.getMessage()).doesNotContain("\n");
    }
  }
}
