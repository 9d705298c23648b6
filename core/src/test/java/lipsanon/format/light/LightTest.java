package lipsanon.format.light;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Random;
import lipsanon.io.InputException;
import lipsanon.live.HeapSeries;
import lipsanon.live.LightSnapshot;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Light snapshots and watched series: written, read, cut off, damaged. */
class LightTest {
  private static final LightSnapshot OFFICE =
      new LightSnapshot(
          "JVM",
          "portmerrow.PortMerrow",
          "4711",
          1_795_000_000_000L,
          true,
          List.of(
              new LightSnapshot.Type("byte[]", 12_345, 1_234_567),
              new LightSnapshot.Type("portmerrow.VesselCall", 400, 12_800),
              new LightSnapshot.Type("quay \"north\"\n\u2028", 1, 16)));

  private static final HeapSeries WATCHED =
      new HeapSeries(
          "JVM",
          "portmerrow.PortMerrow",
          "4711",
          1_795_000_000_000L,
          List.of(
              new HeapSeries.Heap(1_795_000_000_000L, 10, 20, -1, 3, 400, 5),
              new HeapSeries.Heap(1_795_000_001_000L, 12, 20, -1, 4, 500, 6)),
          List.of(
              new HeapSeries.Types(
                  1_795_000_001_000L,
                  12,
                  true,
                  401,
                  12_816,
                  List.of(new LightSnapshot.Type("portmerrow.VesselCall", 400, 12_800)))),
          List.of(new HeapSeries.Mark(1_795_000_001_500L, "baseline", "")));

  @TempDir Path folder;

  private static byte[] bytes(LightSnapshot snapshot) throws IOException {
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    LightWriter.write(snapshot, out);
    return out.toByteArray();
  }

  private Path file(byte[] bytes) throws IOException {
    return Files.write(folder.resolve("a.light.jsonl"), bytes);
  }

  @Test
  void whatIsWrittenIsRead() throws Exception {
    byte[] bytes = bytes(OFFICE);
    assertThat(LightFormat.matches(bytes)).isTrue();
    assertThat(SeriesFormat.matches(bytes)).isFalse();
    assertThat(LightReader.read(file(bytes))).isEqualTo(OFFICE);
    assertThat(new String(bytes, StandardCharsets.UTF_8).lines()).hasSize(5);
  }

  @Test
  void cutAnywhereItIsRefused() throws Exception {
    byte[] bytes = bytes(OFFICE);
    // without the last line's end it is whole all the same
    for (int length = 0; length < bytes.length - 1; length++) {
      Path file = file(java.util.Arrays.copyOf(bytes, length));
      assertThatThrownBy(() -> LightReader.read(file))
          .as("first " + length + " bytes")
          .isInstanceOf(InputException.class)
          .hasMessageContaining("a.light.jsonl");
    }
  }

  @Test
  void damagedItIsRefusedOrSaysWhatItSaid() throws Exception {
    byte[] bytes = bytes(OFFICE);
    for (int i = 0; i < bytes.length; i++) {
      byte[] changed = bytes.clone();
      changed[i] ^= 0x15;
      Path file = file(changed);
      try {
        LightSnapshot read = LightReader.read(file);
        // a name or the head may have changed: no sum tells
        assertThat(read.count()).isEqualTo(OFFICE.count());
        assertThat(read.shallowBytes()).isEqualTo(OFFICE.shallowBytes());
      } catch (InputException e) {
        assertThat(e).hasMessageContaining("a.light.jsonl");
      }
    }
  }

  @Test
  void countsThatWouldOverflowAreRefused() throws Exception {
    String text =
        new String(bytes(OFFICE), StandardCharsets.UTF_8)
            .replace("\"count\":400", "\"count\":9223372036854775807");
    Path file = file(text.getBytes(StandardCharsets.UTF_8));
    assertThatThrownBy(() -> LightReader.read(file)).hasMessageContaining("count");
    Path twice =
        file(
            new String(bytes(OFFICE), StandardCharsets.UTF_8)
                .replace("portmerrow.VesselCall", "byte[]")
                .getBytes(StandardCharsets.UTF_8));
    assertThatThrownBy(() -> LightReader.read(twice)).hasMessageContaining("again");
  }

  private static byte[] bytes(HeapSeries series) throws IOException {
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    new SeriesWriter(out, series).close();
    return out.toByteArray();
  }

  @Test
  void aSeriesIsReadAsFarAsItGoes() throws Exception {
    byte[] bytes = bytes(WATCHED);
    assertThat(SeriesFormat.matches(bytes)).isTrue();
    Path file = folder.resolve("watched");
    Files.write(file, bytes);
    assertThat(SeriesReader.read(file)).isEqualTo(WATCHED);
    int headEnd = new String(bytes, StandardCharsets.UTF_8).indexOf('\n');
    int lines = 0;
    for (int length = headEnd + 1; length < bytes.length; length++) {
      Files.write(file, java.util.Arrays.copyOf(bytes, length));
      HeapSeries read = SeriesReader.read(file);
      int got = read.heap().size() + read.counts().size() + read.marks().size();
      assertThat(got).isBetween(lines, lines + 1);
      lines = got;
    }
    assertThat(lines).isEqualTo(4);
  }

  @Test
  void aDamagedSeriesGivesOneKindOfError() throws Exception {
    byte[] bytes = bytes(WATCHED);
    Random random = new Random(7);
    Path file = folder.resolve("watched");
    for (int i = 0; i < 1000; i++) {
      byte[] changed = bytes.clone();
      for (int k = 0; k <= i % 3; k++) {
        changed[random.nextInt(changed.length)] = (byte) random.nextInt();
      }
      Files.write(file, changed);
      try {
        SeriesReader.read(file);
      } catch (InputException e) {
        assertThat(e).hasMessageContaining("watched");
      }
    }
  }
}
