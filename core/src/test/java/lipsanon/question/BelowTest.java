package lipsanon.question;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.util.Random;
import lipsanon.array.IntList;
import lipsanon.change.YardJvm;
import lipsanon.index.Snapshot;
import lipsanon.io.Progress;
import lipsanon.snapshot.Snapshots;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What an object of a real heap dominates, counted at once and one by one. */
class BelowTest {
  private static final int TOPS = 200;
  private static final int MEMBERS = 400;

  @TempDir Path folder;

  @Test
  void countsWhatIsDominated() throws Exception {
    Path file = folder.resolve("ledger.hprof");
    try (YardJvm jvm = new YardJvm("LinkedLedger")) {
      jvm.act(300);
      jvm.dump(file);
    }
    Snapshots.Options options = new Snapshots.Options(null, folder, false, 1L << 30);
    try (Snapshot snapshot = Snapshots.open(file, options, Progress.NONE)) {
      Random random = new Random(20_261_128L);
      long found = 0;
      for (int i = 0; i < TOPS; i++) {
        int top = above(snapshot, retained(snapshot, random), random.nextInt(40));
        IntList members = new IntList();
        for (int m = 0; m < MEMBERS; m++) {
          members.add(retained(snapshot, random));
        }
        members.add(top);
        long count = Below.count(snapshot, top, members);
        assertThat(count).as("top %d", top).isEqualTo(oneByOne(snapshot, top, members));
        found += count - 1;
      }
      // the test says something
      assertThat(found).isPositive();
    }
  }

  private static int retained(Snapshot snapshot, Random random) {
    int node = random.nextInt(snapshot.objectCount());
    while (snapshot.depth(node) == 0) {
      node = (node + 1) % snapshot.objectCount();
    }
    return node;
  }

  private static int above(Snapshot snapshot, int node, int steps) {
    int at = node;
    for (int i = 0; i < steps && snapshot.dominator(at) >= 0; i++) {
      at = snapshot.dominator(at);
    }
    return at;
  }

  private static long oneByOne(Snapshot snapshot, int top, IntList members) {
    long count = 0;
    for (int i = 0; i < members.size(); i++) {
      int at = members.get(i);
      while (at >= 0 && at != top) {
        at = snapshot.dominator(at);
      }
      count += at == top ? 1 : 0;
    }
    return count;
  }
}
