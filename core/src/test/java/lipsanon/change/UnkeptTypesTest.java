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
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Series in which nothing refers to what grows. */
class UnkeptTypesTest {
  private static final int STICKY = 0x05;

  @TempDir Path folder;

  private GrowthAnswer growth(int... adrift) throws Exception {
    List<Snapshot> series = new ArrayList<>();
    try {
      for (int s = 0; s < adrift.length; s++) {
        HprofBuilder b =
            new HprofBuilder(8)
                .type(0x1000, "java.lang.Object", 0, Map.of())
                .type(0x1100, "java.lang.Class", 0x1000, Map.of())
                .type(0x1400, "harbour.Raft", 0x1000, Map.of(), "logs:11")
                .root(STICKY, 0x1400);
        for (int i = 0; i < adrift[s]; i++) {
          b.instance(0x40_0000 + i * 0x20L, 0x1400, i);
          b.instance(0x80_0000 + i * 0x20L, 0x1000);
        }
        Path file = folder.resolve(s + ".hprof");
        Files.write(file, b.build());
        series.add(
            Snapshots.open(
                file, new Snapshots.Options(null, folder, true, 1L << 30), Progress.NONE));
      }
      return GrowthQuestion.ask(series, new GrowthQuestion.Options(TypeFilter.ALL, 40));
    } finally {
      for (Snapshot snapshot : series) {
        snapshot.close();
      }
    }
  }

  @Test
  void whatNothingKeepsIsNoFindingButIsTold() throws Exception {
    GrowthAnswer answer = growth(200, 240, 280, 320);
    assertThat(answer.findings()).isEmpty();
    assertThat(answer.setAside()).as(answer.toString()).hasSize(1);
    GrowthAnswer.SetAside raft = answer.setAside().get(0);
    assertThat(raft.what()).isEqualTo("120 more harbour.Raft");
    assertThat(raft.why()).contains("kept by nothing that the snapshots tell");
    assertThat(raft.bytes().get(3) - raft.bytes().get(0)).isPositive();
    assertThat(raft.bytes().get(3) * 200).isEqualTo(raft.bytes().get(0) * 320);
  }

  @Test
  void garbageThatComesAndGoesIsNotTold() throws Exception {
    assertThat(growth(200, 320, 90, 240).setAside()).isEmpty();
  }
}
