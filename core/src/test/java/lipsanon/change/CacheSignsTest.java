package lipsanon.change;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import lipsanon.format.hprof.HprofBuilder;
import lipsanon.index.Snapshot;
import lipsanon.io.Progress;
import lipsanon.label.TypeFilter;
import lipsanon.snapshot.Snapshots;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** A store that grows, with a number beside its contents: is that a limit? */
class CacheSignsTest {
  private static final int STICKY = 0x05;
  private static final int ROUNDS = 4;
  private static final int EACH = 500;

  @TempDir Path folder;
  private final List<Snapshot> series = new ArrayList<>();

  @AfterEach
  void close() throws Exception {
    for (Snapshot snapshot : series) {
      snapshot.close();
    }
  }

  /**
   * Grows.
   *
   * @param type of the store
   * @param more how much larger than the contents the number is
   */
  private GrowthAnswer growth(String type, int more) throws Exception {
    for (int round = 1; round <= ROUNDS; round++) {
      HprofBuilder b =
          new HprofBuilder(8)
              .type(0x1000, "java.lang.Object", 0, Map.of())
              .type(0x1100, "java.lang.Class", 0x1000, Map.of())
              .type(0x1200, "[Ljava.lang.Object;", 0x1000, Map.of())
              .type(0x1300, type, 0x1000, Map.of("STORE", 0x2000L), "crates:2", "maxActive:10")
              .type(0x1340, "harbour.Crate", 0x1000, Map.of(), "number:10")
              .root(STICKY, 0x1300)
              .instance(0x2000, 0x1300, 0x3000L, round * EACH + more);
      long[] crates = new long[round * EACH];
      for (int i = 0; i < crates.length; i++) {
        crates[i] = 0x10_0000 + i * 0x20L;
        b = b.instance(crates[i], 0x1340, i);
      }
      Path file = folder.resolve(round + ".hprof");
      Files.write(file, b.array(0x3000, 0x1200, crates).build());
      series.add(
          Snapshots.open(file, new Snapshots.Options(null, folder, true, 1L << 30), Progress.NONE));
    }
    return GrowthQuestion.ask(series, new GrowthQuestion.Options(TypeFilter.ALL, List.of()));
  }

  @Test
  void aLimitThatIsNotReachedSpeaksForACache() throws Exception {
    GrowthAnswer answer = growth("harbour.Store", 1000);
    assertThat(answer.findings().get(0).reasons())
        .anyMatch(reason -> reason.contains("it has a limit, maxActive = 3000"));
    assertThat(answer.verdict()).isEqualTo("growth");
  }

  @Test
  void whatIsAsHighAsTheContentsIsARecordOfThem() throws Exception {
    GrowthAnswer answer = growth("harbour.Store", 0);
    assertThat(answer.findings().get(0).reasons()).noneMatch(reason -> reason.contains("limit"));
  }

  /** With four snapshots it is not a third that lacks. */
  @Test
  void aLibrarysCacheMayBeMeantToGrow() throws Exception {
    GrowthAnswer answer = growth("scala.trees.Store", 1000);
    assertThat(answer.verdict()).isEqualTo("unclear");
    assertThat(answer.sentence()).contains("one much longer round").doesNotContain("two snapshots");
  }
}
