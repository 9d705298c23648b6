package lipsanon.format.hprof;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.Map;
import java.util.Random;
import java.util.zip.GZIPOutputStream;
import lipsanon.index.Snapshot;
import lipsanon.io.InputException;
import lipsanon.io.Progress;
import lipsanon.snapshot.Snapshots;
import org.junit.jupiter.api.Assertions;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Dumps that were made to do harm: they cost little, and are not believed. */
class HostileDumpTest {
  private static final int STICKY = 0x05;

  @TempDir Path folder;

  private Snapshot open(String name, byte[] dump, boolean strict) throws Exception {
    Path file = Files.write(folder.resolve(name), dump);
    return Snapshots.open(
        file, new Snapshots.Options(null, folder, strict, 1L << 30), Progress.NONE);
  }

  private static HprofBuilder beginning() {
    return new HprofBuilder(8)
        .type(0x1000, "java.lang.Object", 0, Map.of())
        .type(0x1100, "java.lang.Class", 0x1000, Map.of());
  }

  /** A chain of classes, which may end in a circle. */
  private static byte[] chain(int length, boolean circle) {
    HprofBuilder b = beginning();
    for (int i = 0; i < length; i++) {
      long above = i > 0 ? 0x2_0000L + 16 * (i - 1) : circle ? 0x2_0000L + 16 : 0x1000;
      b = b.type(0x2_0000L + 16 * i, "harbour.Level" + i, above, Map.of(), "next:2", "depth:10");
    }
    return b.root(STICKY, 0x2_0000).build();
  }

  @Test
  void chainsOfClassesCostNoMoreThanTheirLength() {
    Assertions.assertTimeoutPreemptively(
        Duration.ofSeconds(30),
        () -> {
          for (boolean circle : new boolean[] {false, true}) {
            try (Snapshot s = open("chain" + circle + ".hprof", chain(12_000, circle), false)) {
              assertThat(s.facts().partial()).isTrue();
              assertThat(s.facts().warnings().get(0)).contains("classes lack superclasses");
            }
          }
        });
  }

  @Test
  void classesWithoutTheirSuperclassesAreNotBelieved() throws Exception {
    byte[] dump =
        beginning()
            .type(0x1400, "harbour.Quay", 0x7777, Map.of(), "rope:2")
            .instance(0x3000, 0x1400, 0)
            .root(STICKY, 0x1400)
            .build();
    try (Snapshot s = open("missing.hprof", dump, false)) {
      assertThat(s.facts().partial()).isTrue();
      assertThat(s.facts().warnings()).anyMatch(w -> w.contains("1 classes lack superclasses"));
    }
    assertThatThrownBy(() -> open("strict.hprof", dump, true))
        .isInstanceOf(InputException.class)
        .hasMessageContaining("--strict");
  }

  @Test
  void namesOfEveryKindAreReadAndAskedFor() throws Exception {
    String anchor = "harbour.Quay" + Character.toString(0x2693);
    String whale = "harbour.Pod" + Character.toString(0x1f40b);
    String longest = "harbour." + "Q".repeat(70_000);
    byte[] dump =
        beginning()
            .type(0x1400, anchor, 0x1000, Map.of())
            .type(0x1500, whale, 0x1000, Map.of())
            .type(0x1600, longest, 0x1000, Map.of())
            .instance(0x3000, 0x1400)
            .instance(0x3100, 0x1500)
            .instance(0x3200, 0x1600)
            .root(STICKY, 0x1400)
            .build();
    try (Snapshot s = open("names.hprof", dump, false)) {
      assertThat(s.typeName(s.nodeOf(0x3000))).isEqualTo(anchor);
      assertThat(s.typeName(s.nodeOf(0x3100))).isEqualTo(whale);
      assertThat(s.typeName(s.nodeOf(0x3200)).length()).isLessThan(20_000);
    }
  }

  @Test
  void modifiedUtf8AsTheJvmWritesIt() throws IOException {
    // U+1F40B as two surrogates of three bytes each, a zero as two bytes
    byte[] bytes = {
      'P',
      (byte) 0xed,
      (byte) 0xa0,
      (byte) 0xbd,
      (byte) 0xed,
      (byte) 0xb0,
      (byte) 0x8b,
      (byte) 0xc0,
      (byte) 0x80,
      (byte) 0xff,
      'q'
    };
    assertThat(ModifiedUtf8.text(bytes, bytes.length, false))
        .isEqualTo("P" + Character.toString(0x1f40b) + (char) 0 + (char) 0xfffd + "q");
    assertThat(ModifiedUtf8.text(bytes, 1, true)).isEqualTo("P" + (char) 0x2026);
  }

  @Test
  void compressedDataThatWereChangedAreNoticed() throws Exception {
    byte[] whole = HprofBuilder.sample(8);
    ByteArrayOutputStream many = new ByteArrayOutputStream();
    for (int at = 0; at < whole.length; at += 300) {
      GZIPOutputStream gzip = new GZIPOutputStream(many);
      gzip.write(whole, at, Math.min(300, whole.length - at));
      gzip.finish();
    }
    byte[] sound = many.toByteArray();
    String truth = figures("sound.hprof.gz", sound);
    Random random = new Random(3);
    int refused = 0;
    for (int i = 0; i < 160; i++) {
      byte[] changed = sound.clone();
      changed[random.nextInt(changed.length)] ^= (byte) (1 << random.nextInt(8));
      try {
        assertThat(figures("changed" + i + ".hprof.gz", changed)).isIn(truth, "partial");
      } catch (InputException e) {
        refused++;
      }
    }
    assertThat(refused).isGreaterThan(100);
  }

  private String figures(String name, byte[] dump) throws Exception {
    try (Snapshot s = open(name, dump, false)) {
      StringBuilder all = new StringBuilder();
      for (int n = 0; n < s.objectCount(); n++) {
        all.append(s.id(n)).append(' ').append(s.retainedBytes(n)).append('\n');
      }
      return s.facts().partial() ? "partial" : all.toString();
    }
  }
}
