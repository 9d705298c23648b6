package lipsanon.capture.jvm;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.Random;
import lipsanon.capture.CaptureException;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** This JVM's own performance data, whole and damaged. */
class PerfDataTest {
  @TempDir Path folder;

  private static Path own() {
    return Path.of(
        System.getProperty("java.io.tmpdir"),
        "hsperfdata_" + System.getProperty("user.name"),
        Long.toString(ProcessHandle.current().pid()));
  }

  @Test
  void tellsVersionAndHeap() throws Exception {
    PerfData data = PerfData.read(own());
    assertThat(data.text("java.property.java.vm.version"))
        .isEqualTo(System.getProperty("java.vm.version"));
    assertThat(data.heapUsed()).isPositive();
    long max = Runtime.getRuntime().maxMemory();
    assertThat(data.heapMax()).isBetween(max * 9 / 10, max * 5 / 4);
    assertThat(data.text("no.such.thing")).isEmpty();
    assertThat(data.number("no.such.thing")).isEqualTo(-1);
  }

  @Test
  void survivesWhatIsDamaged() throws Exception {
    byte[] whole = Files.readAllBytes(own());
    Random random = new Random(5);
    Path file = folder.resolve("p");
    for (int i = 0; i < 2000; i++) {
      byte[] broken = Arrays.copyOf(whole, random.nextInt(whole.length));
      for (int flips = random.nextInt(5); flips > 0 && broken.length > 0; flips--) {
        broken[random.nextInt(Math.min(broken.length, 4000))] = (byte) random.nextInt();
      }
      Files.write(file, broken);
      PerfData.read(file).heapUsed();
    }
    Files.write(file, new byte[0]);
    assertThat(PerfData.read(file).heapMax()).isEqualTo(-1);
  }

  @Test
  void unknownTargetsAreRefused() {
    assertThatThrownBy(() -> lipsanon.capture.Runtimes.find("no such program 4711", null, false))
        .isInstanceOf(CaptureException.class)
        .hasMessageContaining("lipsanon runtimes");
  }

  @Test
  void innerPidsComeFromTheNamespace() {
    assertThat(lipsanon.capture.Processes.innerPid(Path.of("/proc/self"), 5)).isPositive();
    assertThat(lipsanon.capture.Processes.innerPid(Path.of("/nowhere"), 5)).isEqualTo(5);
  }
}
