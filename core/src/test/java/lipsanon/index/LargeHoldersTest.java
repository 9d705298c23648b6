package lipsanon.index;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.Map;
import java.util.Random;
import lipsanon.format.hprof.HprofBuilder;
import lipsanon.io.Progress;
import lipsanon.snapshot.Snapshots;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** One array with very many children, below a few or very many objects that are large as well. */
class LargeHoldersTest {
  private static final int ROOT_UNKNOWN = 0xff;
  private static final int CHILDREN = 21_000;
  private static final long BOARD = 0x1800;
  private static final long LIST = 0x1700;
  private static final long FIRST_LIST = 0x10_0000;
  private static final long FIRST_CHILD = 0x100_0000;

  @TempDir Path folder;

  @ParameterizedTest
  @ValueSource(ints = {1, 5, 256, 257, 700})
  void childrenByTypeAndTheLargest(int lists) throws Exception {
    Random random = new Random(lists);
    HprofBuilder dump =
        new HprofBuilder(8)
            .type(0x1000, "java.lang.Object", 0, Map.of())
            .type(0x1100, "java.lang.Class", 0x1000, Map.of())
            .type(LIST, "[Ljava/lang/Object;", 0x1000, Map.of())
            .type(BOARD, "harbour.Board", 0x1000, Map.of(), "height:10", "open:4")
            .segment();
    for (int i = 0; i + 1 < lists; i++) {
      dump.array(FIRST_LIST + 32L * i, LIST, FIRST_LIST + 32L * (i + 1));
    }
    long[] children = new long[CHILDREN];
    for (int i = 0; i < CHILDREN; i++) {
      children[i] = FIRST_CHILD + 1024L * i;
      if (random.nextInt(3) == 0) {
        dump.instance(children[i], BOARD, i, 1);
      } else {
        dump.bytes(children[i], new byte[random.nextInt(900)]);
      }
    }
    long holder = FIRST_LIST + 32L * (lists - 1);
    byte[] file = dump.array(holder, LIST, children).root(ROOT_UNKNOWN, FIRST_LIST).build();
    Path path = Files.write(folder.resolve("many.hprof"), file);
    Snapshots.Options options = new Snapshots.Options(null, folder, false, 1L << 28);
    try (Snapshot snapshot = Snapshots.open(path, options, Progress.NONE)) {
      int node = snapshot.nodeOf("0x" + Long.toHexString(holder));
      Brood brood = snapshot.brood(node);
      Map<Integer, long[]> expected = new HashMap<>();
      long sum = 0;
      long most = 0;
      for (int n = 0; n < snapshot.objectCount(); n++) {
        if (snapshot.depth(n) > 0 && snapshot.dominator(n) == node) {
          long[] figures = expected.computeIfAbsent(snapshot.type(n), key -> new long[3]);
          figures[0]++;
          figures[1] += snapshot.shallowBytes(n);
          figures[2] += snapshot.retainedBytes(n);
          sum += snapshot.retainedBytes(n);
          most = Math.max(most, snapshot.retainedBytes(n));
        }
      }
      assertThat(brood.count()).isGreaterThanOrEqualTo(CHILDREN);
      assertThat(brood.bytes()).isEqualTo(sum);
      assertThat(brood.types()).hasSameSizeAs(expected.keySet());
      for (Brood.OfType type : brood.types()) {
        assertThat(new long[] {type.count(), type.shallowBytes(), type.retainedBytes()})
            .isEqualTo(expected.get(type.type()));
        assertThat(snapshot.type(type.example())).isEqualTo(type.type());
      }
      assertThat(snapshot.retainedBytes(brood.largest().get(0))).isEqualTo(most);
      assertThat(brood.largest()).hasSize(100).doesNotHaveDuplicates();
      assertThat(brood.largest())
          .isSortedAccordingTo(
              (a, b) -> Long.compare(snapshot.retainedBytes(b), snapshot.retainedBytes(a)));
    }
  }
}
