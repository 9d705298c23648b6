package lipsanon.capture.jvm;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.PrintWriter;
import java.net.ServerSocket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;
import lipsanon.capture.CaptureException;
import lipsanon.capture.CaptureOptions;
import lipsanon.capture.CaptureProgress;
import lipsanon.capture.CaptureResult;
import lipsanon.capture.HeapReading;
import lipsanon.capture.TypeCounts;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/** A heap looked at from outside, against what the VM's own beans say of it inside. */
class JvmMeterTest {
  private static final String GAUGE =
      """
      import java.lang.management.*;
      import java.util.*;
      public class Gauge {
        static final List<Object> KEPT = new ArrayList<>();
        static class Buoy { long depth; }
        public static void main(String[] args) throws Exception {
          for (int i = 0; i < 5000; i++) KEPT.add(new Buoy());
          for (int i = 0; i < 40; i++) KEPT.add(new byte[1 << 18]);
          Scanner in = new Scanner(System.in);
          System.out.println("ready");
          while (in.hasNextLine()) {
            in.nextLine();
            MemoryUsage heap = ManagementFactory.getMemoryMXBean().getHeapMemoryUsage();
            long collections = 0;
            for (GarbageCollectorMXBean b : ManagementFactory.getGarbageCollectorMXBeans()) {
              collections += b.getCollectionCount();
            }
            System.out.println(heap.getUsed() + " " + heap.getCommitted() + " " + heap.getMax()
                + " " + collections);
          }
        }
      }
      """;

  @TempDir Path folder;

  /** The program, and what its own beans say. */
  private static final class Gauge implements AutoCloseable {
    final Process process;
    final BufferedReader out;
    final PrintWriter in;

    Gauge(Path folder, Path jdk, String... options) throws IOException {
      Path source = Files.writeString(folder.resolve("Gauge.java"), GAUGE);
      List<String> command = new ArrayList<>();
      command.add(jdk.resolve("bin/java").toString());
      command.addAll(List.of(options));
      command.addAll(List.of("-Xmx200m", source.toString()));
      process = new ProcessBuilder(command).start();
      out = process.inputReader();
      in = new PrintWriter(process.outputWriter(), true);
      assertThat(out.readLine()).isEqualTo("ready");
    }

    long[] beans() throws IOException {
      in.println();
      return Stream.of(out.readLine().split(" ")).mapToLong(Long::parseLong).toArray();
    }

    @Override
    public void close() {
      process.destroyForcibly();
    }
  }

  static Stream<List<String>> targets() throws IOException {
    List<List<String>> targets = new ArrayList<>();
    for (Path jdk : jdks()) {
      for (String collector : List.of("G1", "Parallel", "Serial", "Z")) {
        targets.add(List.of(jdk.toString(), "-XX:+Use" + collector + "GC"));
      }
    }
    targets.add(List.of(System.getProperty("java.home"), "-XX:-UsePerfData"));
    return targets.stream();
  }

  private static List<Path> jdks() throws IOException {
    List<Path> jdks = new ArrayList<>(List.of(Path.of(System.getProperty("java.home"))));
    Path all = Path.of("/usr/lib/jvm");
    if (Files.isDirectory(all)) {
      try (Stream<Path> found = Files.list(all)) {
        found
            .filter(jdk -> jdk.getFileName().toString().contains("25"))
            .filter(jdk -> Files.isExecutable(jdk.resolve("bin/java")))
            .forEach(jdks::add);
      }
    }
    return jdks;
  }

  @ParameterizedTest
  @MethodSource("targets")
  void agreesWithTheBeans(List<String> target) throws Exception {
    try (Gauge gauge = new Gauge(folder, Path.of(target.get(0)), target.get(1));
        JvmMeter meter = JvmMeter.connect(gauge.process.pid())) {
      // before its first collection too
      assertThat(meter.read().usedBytes()).isGreaterThan(10_000_000);
      TypeCounts counts = meter.count(true);
      assertThat(counts.types())
          .anySatisfy(
              type -> {
                assertThat(type.type()).isEqualTo("Gauge$Buoy");
                assertThat(type.count()).isEqualTo(5000);
              });
      assertThat(counts.live()).isTrue();
      long[] beans = gauge.beans();
      HeapReading reading = meter.read();
      // a collector that works beside the program may free some between the two
      for (int i = 0; i < 20 && Math.abs(reading.usedBytes() - beans[0]) > 2_200_000; i++) {
        beans = gauge.beans();
        reading = meter.read();
      }
      // the scanner of the input allocates between the two, and ZGC counts pages of 2 MB
      assertThat(reading.usedBytes()).isBetween(beans[0] - 2_200_000, beans[0] + 2_200_000);
      assertThat(reading.committedBytes()).isBetween(beans[1] - 100_000, beans[1] + 100_000);
      if (reading.collections() >= 0) {
        assertThat(reading.collections()).isPositive();
        assertThat(reading.maxBytes()).isBetween(beans[2] * 9 / 10, beans[2] * 11 / 10);
      }
      assertThat(counts.bytes()).isBetween(10_000_000L, reading.usedBytes() + 100_000);
      if (meter.tellsSurvivors() && reading.survivedBytes() >= 0) {
        assertThat(reading.survivedBytes()).isBetween(10_000_000L, beans[0] + 100_000);
      }
      assertThat(meter.collectOnce()).isBetween(0L, 60_000L);
    }
  }

  @Test
  void aProcessThatEndedIsTold() throws Exception {
    Gauge gauge = new Gauge(folder, Path.of(System.getProperty("java.home")), "-XX:+UseSerialGC");
    try (JvmMeter meter = JvmMeter.connect(gauge.process.pid())) {
      gauge.process.destroyForcibly().waitFor();
      assertThatThrownBy(meter::read)
          .isInstanceOf(CaptureException.class)
          .hasMessageContaining("has ended");
    }
  }

  @Test
  void aRemoteJvmByItsManagementPort() throws Exception {
    int port;
    try (ServerSocket socket = new ServerSocket(0)) {
      port = socket.getLocalPort();
    }
    Path passwords = folder.resolve("passwords");
    Files.createFile(
        passwords,
        PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rw-------")));
    Files.writeString(passwords, "harbour salt-and-tar\n");
    Path access = Files.writeString(folder.resolve("access"), "harbour readwrite\n");
    String jmx = "-Dcom.sun.management.jmxremote.";
    try (Gauge gauge =
        new Gauge(
            folder,
            Path.of(System.getProperty("java.home")),
            jmx + "port=" + port,
            jmx + "rmi.port=" + port,
            jmx + "ssl=false",
            jmx + "password.file=" + passwords,
            jmx + "access.file=" + access,
            "-Djava.rmi.server.hostname=127.0.0.1")) {
      JmxLogin login = JmxLogin.of("127.0.0.1:" + port, "harbour", "salt-and-tar", false);
      assertThat(login.toString()).doesNotContain("salt");
      try (JmxRuntime remote = JmxRuntime.connect(login)) {
        assertThat(remote.info().id()).isEqualTo("127.0.0.1:" + port);
        assertThat(remote.count(true).types())
            .anySatisfy(type -> assertThat(type.type()).isEqualTo("Gauge$Buoy"));
        long[] beans = gauge.beans();
        HeapReading reading = remote.read();
        assertThat(reading.usedBytes()).isBetween(beans[0] - 3_000_000, beans[0] + 6_000_000);
        assertThat(reading.committedBytes()).isEqualTo(beans[1]);
        assertThat(reading.maxBytes()).isEqualTo(beans[2]);
        assertThat(reading.areas()).isNotEmpty();
        Path file = folder.resolve("remote.hprof");
        CaptureResult result =
            remote.capture(new CaptureOptions(file, false, false, false), CaptureProgress.NONE);
        assertThat(result.fileBytes()).isEqualTo(-1);
        assertThat(Files.size(file)).isGreaterThan(10_000_000);
        CaptureOptions relative = new CaptureOptions(Path.of("here.hprof"), false, false, false);
        assertThatThrownBy(() -> remote.capture(relative, CaptureProgress.NONE))
            .hasMessageContaining("whole path");
      }
      JmxLogin wrong = JmxLogin.of(login.at(), "harbour", "guessed", false);
      assertThatThrownBy(() -> JmxRuntime.connect(wrong))
          .isInstanceOf(CaptureException.class)
          .hasMessageContaining("refuses user harbour")
          .hasMessageNotContaining("guessed");
      JmxLogin nobody = JmxLogin.of(login.at(), "", "", false);
      assertThatThrownBy(() -> JmxRuntime.connect(nobody)).hasMessageContaining("asks for a user");
      JmxLogin secret = JmxLogin.of(login.at(), "harbour", "salt-and-tar", true);
      assertThatThrownBy(() -> JmxRuntime.connect(secret)).hasMessageContaining("TLS");
    }
    JmxLogin ended = JmxLogin.of("127.0.0.1:" + port, "", "", false);
    assertThatThrownBy(() -> JmxRuntime.connect(ended)).hasMessageContaining("no JVM answers");
    JmxLogin closed = JmxLogin.of("127.0.0.1:1", "", "", false);
    assertThatThrownBy(() -> JmxRuntime.connect(closed)).hasMessageContaining("refused");
    assertThatThrownBy(() -> JmxLogin.of("nowhere", "", "", false))
        .isInstanceOf(IllegalArgumentException.class);
  }

  private static List<Path> left(long pid) throws IOException {
    try (Stream<Path> files = Files.list(Path.of("/tmp"))) {
      String ours = ".lipsanon-" + ProcessHandle.current().pid();
      return files.filter(file -> file.getFileName().toString().startsWith(ours)).toList();
    }
  }

  @ParameterizedTest
  @MethodSource("recorded")
  void aRecordingLeavesNothingBehind(String jdk) throws Exception {
    try (Gauge gauge = new Gauge(folder, Path.of(jdk), "-XX:+UseG1GC")) {
      Path file = folder.resolve("gauge.jfr");
      AttachChannel channel =
          AttachChannel.to(gauge.process.pid(), java.time.Duration.ofSeconds(60));
      try (JvmRecorder recorder = JvmRecorder.connect(gauge.process.pid())) {
        long millis = recorder.record(file, false, 7_000, true, sofar -> false);
        assertThat(millis).isBetween(7_000L, 60_000L);
      }
      assertThat(Files.readAllBytes(file)).startsWith('F', 'L', 'R', 0);
      assertThat(left(gauge.process.pid())).isEmpty();
      assertThat(channel.ask(silent -> false, "jcmd", "JFR.check"))
          .contains("No available recordings");
      // what a call that was killed has left is ended by the next one
      channel.ask(
          silent -> false,
          "jcmd",
          "JFR.start name=lipsanon-999999999-1 disk=false duration=100s" + " filename=/dev/null");
      try (JvmRecorder recorder = JvmRecorder.connect(gauge.process.pid())) {
        assertThat(channel.ask(silent -> false, "jcmd", "JFR.check"))
            .contains("No available recordings");
        // another one that runs: ours is then kept on the VM's disk, since memory would lose it
        channel.ask(silent -> false, "jcmd", "JFR.start name=other disk=true");
        recorder.record(folder.resolve("beside.jfr"), false, 2_500, false, sofar -> false);
        assertThat(Files.size(folder.resolve("beside.jfr"))).isPositive();
        assertThat(channel.ask(silent -> false, "jcmd", "JFR.check"))
            .contains("name=other")
            .doesNotContain("lipsanon");
      }
      assertThat(left(gauge.process.pid())).isEmpty();
    }
  }

  @Test
  void aRuntimeImageWithoutTheRecorderIsTold() throws Exception {
    Path home = Path.of(System.getProperty("java.home"));
    Path image = folder.resolve("image");
    Process jlink =
        new ProcessBuilder(
                home.resolve("bin/jlink").toString(),
                "--add-modules",
                "java.base,java.management",
                "--output",
                image.toString())
            .redirectErrorStream(true)
            .redirectOutput(ProcessBuilder.Redirect.DISCARD)
            .start();
    assertThat(jlink.waitFor()).isZero();
    // the image has no compiler: the class is made before
    Path source = Files.writeString(folder.resolve("Gauge.java"), GAUGE);
    Process javac =
        new ProcessBuilder(
                home.resolve("bin/javac").toString(), "-d", folder.toString(), source.toString())
            .start();
    assertThat(javac.waitFor()).isZero();
    Process process =
        new ProcessBuilder(image.resolve("bin/java").toString(), "-cp", folder.toString(), "Gauge")
            .start();
    try {
      assertThat(process.inputReader().readLine()).isEqualTo("ready");
      assertThatThrownBy(() -> JvmRecorder.connect(process.pid()))
          .isInstanceOf(CaptureException.class)
          .hasMessageContaining("has no event recorder");
      try (JvmMeter meter = JvmMeter.connect(process.pid())) {
        assertThat(meter.count(true).bytes()).isGreaterThan(10_000_000);
      }
    } finally {
      process.destroyForcibly();
    }
  }

  static Stream<String> recorded() throws IOException {
    return jdks().stream().map(Path::toString);
  }
}
