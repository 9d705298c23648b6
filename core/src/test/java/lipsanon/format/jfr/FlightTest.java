package lipsanon.format.jfr;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.ByteBuffer;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import java.util.concurrent.locks.LockSupport;
import jdk.jfr.Recording;
import lipsanon.io.InputException;
import lipsanon.live.Flight;
import lipsanon.origin.FlightAnswer;
import lipsanon.origin.FlightQuestion;
import lipsanon.origin.OriginsQuestion;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.io.TempDir;

/** Recordings of this VM itself: read, merged, cut off, damaged. */
class FlightTest {
  @TempDir static Path folder;
  static Path file;

  /** What piles up. */
  private static final List<byte[]> KEPT = new ArrayList<>();

  private static volatile Object sink;

  private static void allocate() {
    for (int i = 0; i < 40_000; i++) {
      sink = new byte[5_000];
      if (i % 100 == 0) {
        KEPT.add(new byte[20_000]);
        // the recorder takes so many samples a second
        LockSupport.parkNanos(4_000_000);
      }
    }
  }

  @BeforeAll
  static void record() throws Exception {
    file = folder.resolve("made.jfr");
    try (Recording recording = new Recording()) {
      recording.enable("jdk.ObjectAllocationSample").with("throttle", "1000/s");
      recording.enable("jdk.OldObjectSample").with("cutoff", "infinity").withStackTrace();
      recording.enable("jdk.GCHeapSummary");
      recording.enable("jdk.GarbageCollection").withThreshold(Duration.ZERO);
      recording.enable("jdk.ThreadStart").withoutStackTrace();
      recording.start();
      // its first sample counts, since it begins while it is recorded
      Thread crane = new Thread(FlightTest::allocate, "crane");
      crane.start();
      crane.join();
      System.gc();
      recording.stop();
      recording.dump(file);
    }
  }

  @Test
  void samplesAndSurvivorsAreRead() throws Exception {
    Flight flight = FlightReader.read(file);
    assertThat(flight.partial()).isFalse();
    assertThat(flight.heap()).isNotEmpty();
    assertThat(flight.allocations())
        .anySatisfy(
            sample -> {
              assertThat(sample.type()).isEqualTo("byte[]");
              assertThat(sample.thread()).isEqualTo("crane");
              assertThat(sample.stack().get(0).method()).isEqualTo("allocate");
            });
    FlightAnswer answer =
        FlightQuestion.ask(
            "made.jfr",
            flight,
            FlightQuestion.Options.all(
                type -> type.startsWith("lipsanon"),
                new OriginsQuestion.Options(false, false, 0, Long.MAX_VALUE, 10)));
    assertThat(answer.origins().functions().get(0).function()).endsWith("FlightTest.allocate");
    assertThat(answer.origins().functions().get(0).script())
        .isEqualTo("lipsanon/format/jfr/FlightTest.java");
    // 200 MB of churn and 8 MB that stay; samples carry the bytes between them
    assertThat(answer.origins().allBytes()).isBetween(150_000_000L, 260_000_000L);
    assertThat(answer.threads().get(0).thread()).isEqualTo("crane");
    assertThat(answer.types().get(0).type()).isEqualTo("byte[]");
    assertThat(answer.exactness()).contains("samples");
    assertThat(answer.survivors())
        .anySatisfy(
            row -> {
              assertThat(row.type()).isEqualTo("byte[]");
              assertThat(row.heldBy()).isEqualTo("static lipsanon.format.jfr.FlightTest.KEPT");
              assertThat(row.place()).contains("FlightTest.allocate (FlightTest.java:");
            });
  }

  @Test
  void recordingsInARowAreOne() throws Exception {
    byte[] once = Files.readAllBytes(file);
    Path twice = folder.resolve("twice.jfr");
    Files.write(twice, once);
    Files.write(twice, once, java.nio.file.StandardOpenOption.APPEND);
    Flight one = FlightReader.read(file);
    Flight two = FlightReader.read(twice);
    assertThat(FlightFormat.check(twice)).isEqualTo(2 * FlightFormat.check(file));
    assertThat(two.allocations().size()).isGreaterThanOrEqualTo(2 * one.allocations().size());
    // those of the last look count, once more
    assertThat(two.survivors().size())
        .isBetween(one.survivors().size(), 2 * one.survivors().size());
  }

  @Test
  void headersAreCheckedBeforeTheReaderOfTheJdkMayLoop() throws Exception {
    byte[] bytes = Files.readAllBytes(file);
    byte[] endless = bytes.clone();
    ByteBuffer.wrap(endless).putLong(FlightFormat.SIZE_OFFSET, 0);
    Path damaged = Files.write(folder.resolve("endless.jfr"), endless);
    assertThatThrownBy(() -> FlightReader.read(damaged)).hasMessageContaining("chunk of 0 bytes");
    for (int length : new int[] {1, 4, 67, 68, 100, bytes.length / 2, bytes.length - 1}) {
      Path cut = Files.write(folder.resolve("cut.jfr"), java.util.Arrays.copyOf(bytes, length));
      assertThatThrownBy(() -> FlightReader.read(cut))
          .as(length + " bytes")
          .isInstanceOf(InputException.class);
    }
  }

  @Test
  @Timeout(240)
  void damagedItGivesAnErrorOrAPart() throws Exception {
    byte[] bytes = Files.readAllBytes(file);
    Random random = new Random(11);
    int read = 0;
    for (int i = 0; i < 120; i++) {
      byte[] changed = bytes.clone();
      // the metadata and constants stand at the end
      int from = i % 2 == 0 ? 0 : bytes.length * 3 / 4;
      for (int k = 0; k < 1 + i % 5; k++) {
        changed[from + random.nextInt(changed.length - from)] = (byte) random.nextInt();
      }
      Path damaged = Files.write(folder.resolve("damaged.jfr"), changed);
      try {
        FlightReader.read(damaged);
        read++;
      } catch (InputException e) {
        assertThat(e).hasMessageContaining("damaged.jfr");
      }
    }
    assertThat(read).isPositive();
  }
}
