package lipsanon.format.hprof;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import lipsanon.array.Space;
import lipsanon.index.SnapshotContent;
import lipsanon.io.FileSource;
import lipsanon.io.Progress;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Counts and sizes of a live JVM's dump against that JVM's own histogram, class by class. */
class TrueSizesTest {
  @TempDir Path folder;

  @ParameterizedTest
  @ValueSource(
      strings = {
        "-XX:+UseG1GC",
        "-XX:+UseG1GC -Xshare:off",
        "-XX:+UseParallelGC",
        "-XX:+UseSerialGC -XX:MarkSweepAlwaysCompactCount=1",
        "-XX:+UseG1GC -XX:-UseCompressedOops",
        "-XX:+UseSerialGC -XX:MarkSweepAlwaysCompactCount=1 -XX:-UseCompressedOops",
        "-XX:+UseParallelGC -XX:ObjectAlignmentInBytes=16",
        "-XX:+UseZGC",
        "-XX:+UseG1GC -XX:-UseCompressedOops -XX:-UseCompressedClassPointers"
      })
  void jdk17(String options) throws Exception {
    compare(LiveJvm.current(), options);
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "-XX:+UseG1GC",
        "-XX:+UseG1GC -Xshare:off",
        "-XX:+UseSerialGC -XX:MarkSweepAlwaysCompactCount=1 -XX:+UseCompactObjectHeaders",
        "-XX:+UseParallelGC -XX:-UseCompressedOops",
        "-XX:+UseG1GC -XX:+UseCompactObjectHeaders"
      })
  void jdk25(String options) throws Exception {
    Path home = LiveJvm.installed(25);
    assumeTrue(home != null, "no JDK 25 here");
    compare(home, options);
  }

  private void compare(Path home, String options) throws Exception {
    Path file = folder.resolve("zoo.hprof");
    Map<String, long[]> truth;
    try (LiveJvm jvm = LiveJvm.start(home, HeapZoo.class, ("-Xmx256m " + options).split(" "))) {
      jvm.collect();
      truth = jvm.histogram();
      jvm.dump(file);
    }
    SnapshotContent content;
    try (FileSource source = new FileSource(file)) {
      content = HprofReader.read(source, Space.heap(), true, Progress.NONE);
    }
    Map<String, long[]> ours = new TreeMap<>();
    for (int n = 0; n < content.graph().count; n++) {
      String name = content.types().get(content.graph().type.get(n)).name();
      long[] sums = ours.computeIfAbsent(name, key -> new long[2]);
      sums[0]++;
      sums[1] += Integer.toUnsignedLong(content.shallow().get(n)) * content.unitBytes();
    }
    fillers(truth, ours);
    List<String> differences = new ArrayList<>();
    truth.forEach(
        (name, expected) -> {
          long[] actual = ours.getOrDefault(name, new long[2]);
          if (!name.equals("java.lang.Class")
              && (expected[0] != actual[0] || expected[1] != actual[1])) {
            differences.add(
                String.format(
                    "%s: VM %d objects %d bytes, here %d objects %d bytes",
                    name, expected[0], expected[1], actual[0], actual[1]));
          }
        });
    assertThat(differences).as(options + ", layout " + content.facts().layout()).isEmpty();
    mirrors(truth.get("java.lang.Class"), ours.get("java.lang.Class"), options);
  }

  /**
   * Dormant mirrors of an archived heap are not in the dump: each is at least as large as a plain
   * one.
   */
  private static void mirrors(long[] truth, long[] ours, String options) {
    long missing = truth[0] - ours[0];
    assertThat(missing).as(options).isGreaterThanOrEqualTo(0);
    if (missing == 0) {
      assertThat(ours[1]).as("bytes of class objects, " + options).isEqualTo(truth[1]);
    } else {
      assertThat(ours[1]).isLessThan(truth[1]);
    }
  }

  /** JDK 25 fills holes with arrays that the dump calls {@code int[]}. */
  private static void fillers(Map<String, long[]> truth, Map<String, long[]> ours) {
    for (String name : List.of("jdk.internal.vm.FillerElement[]", "jdk.internal.vm.FillerObject")) {
      long[] fillers = truth.remove(name);
      if (fillers != null && !ours.containsKey(name)) {
        truth.merge("int[]", fillers, (a, b) -> new long[] {a[0] + b[0], a[1] + b[1]});
      }
    }
  }
}
