package lipsanon.change;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import lipsanon.format.hprof.HprofBuilder;
import lipsanon.holder.Finding;
import lipsanon.index.Snapshot;
import lipsanon.io.Progress;
import lipsanon.label.TypeFilter;
import lipsanon.snapshot.Snapshots;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * What grows is linked in two queues, as where a runtime has one for each processor, and nothing
 * holds both alone: the array that has them is not the only one.
 */
class TwoQueuesTest {
  private static final int STICKY = 0x05;

  @TempDir Path folder;

  private static long link(int lane, int i) {
    return 0x40_0000 + lane * 0x10_0000L + i * 0x20L;
  }

  private Snapshot snapshot(int number, int links) throws Exception {
    HprofBuilder b =
        new HprofBuilder(8)
            .type(0x1000, "java.lang.Object", 0, Map.of())
            .type(0x1100, "java.lang.Class", 0x1000, Map.of())
            .type(0x1200, "[Lharbour.Lane;", 0x1000, Map.of())
            .type(0x1300, "harbour.Port", 0x1000, Map.of("LANES", 0x2000L))
            .type(0x1340, "harbour.Lookout", 0x1000, Map.of("inner", 0x2100L, "outer", 0x2200L))
            .type(0x1380, "harbour.Lane", 0x1000, Map.of(), "first:2")
            .type(0x1400, "harbour.Vessel", 0x1000, Map.of(), "astern:2", "lane:2")
            .root(STICKY, 0x1300)
            .root(STICKY, 0x1340)
            .array(0x2000, 0x1200, 0x2100L, 0x2200L)
            .instance(0x2100, 0x1380, link(0, 0))
            .instance(0x2200, 0x1380, link(1, 0));
    // the second queue has a third of them
    for (int lane = 0; lane < 2; lane++) {
      int count = lane == 0 ? links - links / 3 : links / 3;
      for (int i = 0; i < count; i++) {
        long next = i + 1 < count ? link(lane, i + 1) : 0;
        b.instance(link(lane, i), 0x1400, next, lane == 0 ? 0x2100L : 0x2200L);
      }
    }
    Path file = folder.resolve("q" + number + ".hprof");
    Files.write(file, b.build());
    return Snapshots.open(file, new Snapshots.Options(null, folder, true, 1L << 30), Progress.NONE);
  }

  @Test
  void theFieldThatBothHangOnIsNamed() throws Exception {
    List<Snapshot> series = new ArrayList<>();
    for (int i = 1; i <= 4; i++) {
      series.add(snapshot(i, 6000 * i));
    }
    try {
      GrowthAnswer answer =
          GrowthQuestion.ask(series, new GrowthQuestion.Options(TypeFilter.ALL, 0));
      assertThat(answer.verdict()).as(answer.toString()).isEqualTo("growth");
      Finding first = answer.findings().get(0);
      assertThat(first.what()).isEqualTo("harbour.Vessel");
      assertThat(first.counts()).containsExactly(6000L, 12_000L, 18_000L, 24_000L);
      assertThat(first.heldBy()).isEqualTo("harbour.Lane.first in 2 objects");
      assertThat(first.freedShare()).isEqualTo(1);
    } finally {
      for (Snapshot snapshot : series) {
        snapshot.close();
      }
    }
  }
}
