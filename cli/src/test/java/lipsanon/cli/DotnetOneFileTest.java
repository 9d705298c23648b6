package lipsanon.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import lipsanon.index.Snapshot;
import lipsanon.io.Progress;
import lipsanon.snapshot.Snapshots;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * A program of one file that brings .NET 10 along: neither is there a library to know the runtime
 * by, nor are there files of its assemblies.
 */
class DotnetOneFileTest {
  private static final int TIMES = 30;

  @TempDir static Path built;

  @TempDir Path folder;

  private static Path program;

  @BeforeAll
  static void build() throws Exception {
    DotnetYard.runtime();
    Process tool =
        new ProcessBuilder(
                Path.of("../tools/dotnet-one-file").toAbsolutePath().toString(),
                "OneFile",
                built.toString(),
                Path.of("src/test/dotnet/OneFile.cs").toAbsolutePath().toString())
            .redirectError(ProcessBuilder.Redirect.INHERIT)
            .start();
    String line = tool.inputReader().readLine();
    assumeTrue(tool.waitFor() == 0, "NO .NET 10: its tests are skipped");
    program = Path.of(line);
  }

  private Path capture(DotnetYard yard, String name, String... more) throws Exception {
    Path file = folder.resolve(name);
    List<String> words = new ArrayList<>(List.of("capture", yard.pid(), "-o", file.toString()));
    words.addAll(List.of(more));
    Tool.Result result = Tool.run(folder, words.toArray(new String[0]));
    assertThat(result.code()).as(result.err()).isZero();
    return file;
  }

  private Snapshot open(Path file) throws Exception {
    return Snapshots.open(file, new Snapshots.Options(null, folder, true, 1L << 30), Progress.NONE);
  }

  @Test
  void aDumpHasWhatTheStreamTells() throws Exception {
    try (DotnetYard yard = new DotnetYard(program)) {
      yard.say("act 100");
      // the collections of the first move objects
      capture(yard, "first.nettrace");
      Path told = capture(yard, "told.nettrace");
      Path exact = capture(yard, "exact.core", "--dump");
      try (Snapshot stream = open(told);
          Snapshot dump = open(exact)) {
        assertThat(dump.facts().warnings()).isEmpty();
        DotnetComparison.compare(stream, dump, 1500);
        // free blocks are none, and what stands behind them among the large ones is found
        for (Snapshot one : List.of(stream, dump)) {
          assertThat(largest(one, "PortMerrow.Mark[]")).isEqualTo(240_024);
          assertThat(largest(one, "System.Byte[]")).isEqualTo(200_024);
        }
      }
    }
  }

  /** Bytes of the largest object of a type. */
  private static long largest(Snapshot snapshot, String type) {
    long most = -1;
    for (int n = 0; n < snapshot.objectCount(); n++) {
      if (snapshot.typeName(n).equals(type)) {
        most = Math.max(most, snapshot.shallowBytes(n));
      }
    }
    return most;
  }

  @Test
  void whatPilesUpIsHeldByAFieldOfTheProgram() throws Exception {
    List<String> streams = new ArrayList<>();
    List<String> dumps = new ArrayList<>();
    try (DotnetYard yard = new DotnetYard(program)) {
      Tool.Result runtimes = Tool.run(folder, "runtimes");
      assertThat(runtimes.out()).containsPattern(yard.pid() + " +\\.NET +10\\.0\\.5 ");
      for (int round = 0; round < 3; round++) {
        yard.say("act " + TIMES);
        streams.add(capture(yard, round + ".nettrace").toString());
        dumps.add(capture(yard, round + ".core", "--dump").toString());
      }
    }
    for (List<String> series : List.of(streams, dumps)) {
      List<String> words = new ArrayList<>(List.of("growth", "--json", "--actions", "30,30"));
      words.addAll(series);
      Tool.Result growth = Tool.run(folder, words.toArray(new String[0]));
      assertThat(growth.code()).as(growth.err()).isZero();
      JsonNode first = new ObjectMapper().readTree(growth.out()).path("findings").path(0);
      assertThat(first.path("sentence").asText())
          .isEqualTo(
              "60 more PortMerrow.Watch pile up (12.5 kB, exactly 1 with every action), held by"
                  + " PortMerrow.Tower.Tide.");
      assertThat(first.toString()).contains("PortMerrow.Harbour.tower");
    }
  }
}
