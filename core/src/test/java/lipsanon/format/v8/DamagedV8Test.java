package lipsanon.format.v8;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Arrays;
import java.util.List;
import java.util.Random;
import lipsanon.array.Space;
import lipsanon.graph.Reachability;
import lipsanon.index.SnapshotContent;
import lipsanon.io.BytesSource;
import lipsanon.io.InputException;
import lipsanon.io.Progress;
import org.junit.jupiter.api.Test;

/** Snapshots cut anywhere and with any byte changed: clear errors, or what can be read. */
class DamagedV8Test {
  private static final int FLIPS = 5_000;

  /** Null if the snapshot was refused with a clear error. */
  private static SnapshotContent read(byte[] snapshot) throws Exception {
    try {
      SnapshotContent content =
          V8Reader.read(new BytesSource("damaged", snapshot), null, Space.heap(), Progress.NONE);
      Reachability.compute(content.graph(), Space.heap(), Progress.NONE);
      content.ids().feed(id -> {});
      return content;
    } catch (InputException e) {
      assertThat(e.getMessage()).doesNotContain("\n").startsWith("damaged");
      return null;
    }
  }

  @Test
  void cutAtEveryByte() throws Exception {
    byte[] whole = V8Builder.sample(new V8Builder()).bytes();
    assertThat(read(whole)).isNotNull();
    int end = whole.length - 2;
    for (int length = 0; length < end; length++) {
      assertThat(read(Arrays.copyOf(whole, length))).as("cut at " + length).isNull();
    }
  }

  @Test
  void flippedBytes() throws Exception {
    byte[] whole = V8Builder.sample(new V8Builder()).bytes();
    Random random = new Random(20261123);
    int refused = 0;
    for (int i = 0; i < FLIPS; i++) {
      byte[] copy = whole.clone();
      for (int k = random.nextInt(3); k >= 0; k--) {
        copy[random.nextInt(copy.length)] ^= (byte) (1 << random.nextInt(8));
      }
      refused += read(copy) == null ? 1 : 0;
    }
    assertThat(refused).isGreaterThan(FLIPS / 4);
  }

  @Test
  void absurdCountsTakeNoMemory() throws Exception {
    String whole = new String(V8Builder.sample(new V8Builder()).bytes(), "UTF-8");
    for (String count : List.of("2000000000", "9999999999999", "99999999999999999999", "-1")) {
      for (String name : List.of("node_count", "edge_count")) {
        String changed = whole.replaceFirst(name + "\":\\d+", name + "\":" + count);
        assertThat(read(changed.getBytes("UTF-8"))).as(name + " " + count).isNull();
      }
    }
  }
}
