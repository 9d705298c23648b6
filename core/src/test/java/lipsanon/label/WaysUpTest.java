package lipsanon.label;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import java.util.Random;
import lipsanon.format.hprof.HprofBuilder;
import lipsanon.index.Snapshot;
import lipsanon.io.Progress;
import lipsanon.snapshot.Snapshots;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What lies below an object, against the way up from each. */
class WaysUpTest {
  private static final int VESSELS = 3000;

  @TempDir Path folder;

  private static long vessel(int i) {
    return 0x10_0000 + i * 0x20L;
  }

  /** Long rows, joined here and there; all refer to the first of their row. */
  private Snapshot snapshot(Random random) throws Exception {
    HprofBuilder b =
        new HprofBuilder(8)
            .type(0x1000, "java.lang.Object", 0, Map.of())
            .type(0x1100, "java.lang.Class", 0x1000, Map.of())
            .type(0x1300, "harbour.Port", 0x1000, Map.of("FIRST", vessel(0)))
            .type(0x1400, "harbour.Vessel", 0x1000, Map.of(), "astern:2", "tow:2")
            .root(0x05, 0x1300);
    for (int i = 0; i < VESSELS; i++) {
      boolean joins = random.nextInt(200) == 0;
      long tow = vessel(joins ? random.nextInt(VESSELS) : i - i % 500);
      b.instance(vessel(i), 0x1400, i + 1 < VESSELS ? vessel(i + 1) : 0, tow);
    }
    Path file = folder.resolve("rows.hprof");
    Files.write(file, b.build());
    return Snapshots.open(file, new Snapshots.Options(null, folder, true, 1L << 30), Progress.NONE);
  }

  @Test
  void agreesWithTheWayUp() throws Exception {
    long seed = Long.getLong("lipsanon.seed", 20_261_128L);
    Random random = new Random(seed);
    int found = 0;
    try (Snapshot snapshot = snapshot(random)) {
      Links links = new Links(snapshot);
      for (int round = 0; round < 40; round++) {
        int above = snapshot.nodeOf(vessel(random.nextInt(VESSELS)));
        WaysUp below = new WaysUp(snapshot, above, VESSELS);
        for (int i = 0; i < VESSELS; i++) {
          int node = snapshot.nodeOf(vessel(random.nextInt(VESSELS)));
          boolean expected = false;
          for (int at = node; at >= 0 && !expected; at = snapshot.dominator(at)) {
            expected = at == above;
          }
          assertThat(below.has(node)).as("seed %d", seed).isEqualTo(expected);
          found += expected ? 1 : 0;
        }
        assertThat(below.has(above)).isTrue();
        // what is granted no steps is not followed
        WaysUp none = new WaysUp(snapshot, above, 0);
        assertThat(none.has(above)).isTrue();
        int last = snapshot.nodeOf(vessel(VESSELS - 1));
        assertThat(none.has(last)).isEqualTo(last == above);
        assertThat(links.dominates(above, above)).isTrue();
      }
    }
    assertThat(found).isBetween(1000, 40 * VESSELS - 1000);
  }
}
