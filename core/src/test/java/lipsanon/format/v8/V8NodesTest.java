package lipsanon.format.v8;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Random;
import lipsanon.array.Space;
import lipsanon.io.Bytes;
import lipsanon.io.CorruptInputException;
import lipsanon.io.Progress;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Nodes read from both ends are those read from the beginning on. */
class V8NodesTest {
  private static byte[] random(long seed, int count) throws IOException {
    Random random = new Random(seed);
    V8Builder builder = new V8Builder();
    String[] kinds = {"object", "array", "closure", "native", "string"};
    for (int i = 0; i < count; i++) {
      boolean synthetic = i == 0 || random.nextInt(300) == 0;
      String kind = synthetic ? "synthetic" : kinds[random.nextInt(kinds.length)];
      // the names of the second half are partly those of the first, and some identifiers repeat
      String name = "name " + (random.nextInt(40) + (i < count / 2 ? 0 : 20));
      long id = random.nextInt(50) == 0 ? 1 + random.nextInt(2 * count) : 2L * i + 1;
      builder.node(kind, name, id, random.nextInt(5000));
    }
    for (int e = 0; e < count / 10; e++) {
      builder.edge(random.nextInt(count), "element", e, random.nextInt(count));
    }
    return builder.bytes();
  }

  private static V8Nodes read(byte[] bytes, boolean lastFirst) throws IOException {
    Bytes source = new Bytes("office.heapsnapshot", bytes);
    V8File file = V8File.scan(source);
    file.readRest();
    V8Nodes nodes = new V8Nodes(file.meta, (int) file.meta.nodeCount(), source, Space.heap());
    if (lastFirst) {
      nodes.readLast(file.lists.get("nodes"));
    }
    nodes.readFirst(file.begins.get("nodes"), Progress.NONE);
    nodes.finish();
    return nodes;
  }

  private static List<String> rows(byte[] bytes, boolean lastFirst) throws IOException {
    V8Nodes nodes = read(bytes, lastFirst);
    V8File file = V8File.scan(new Bytes("office.heapsnapshot", bytes));
    file.readRest();
    var types = nodes.nameTypes(file.strings);
    List<String> rows = new ArrayList<>();
    for (int node = 0; node < nodes.count; node++) {
      rows.add(nodes.objectOf.get(node) + " with " + nodes.edgeCounts.get(node));
    }
    for (int n = 0; n < nodes.objects(); n++) {
      rows.add(
          types.get(nodes.type.get(n)).name()
              + (" " + nodes.type.get(n) + " " + nodes.shallow.get(n))
              + (" @" + nodes.ids.get(n) + " at " + nodes.positions.get(n)));
    }
    rows.add(Arrays.toString(nodes.synthetic()) + Arrays.toString(nodes.syntheticNames()));
    rows.add(nodes.repeatedIds() + " repeated, functions " + nodes.closureType());
    return rows;
  }

  @ParameterizedTest
  @ValueSource(longs = {1, 2, 3})
  void bothEndsAreTheWhole(long seed) throws IOException {
    byte[] bytes = random(seed, 80_000);
    assertThat(bytes.length).isGreaterThan(3 * NumberList.PIECE);
    assertThat(read(bytes, true).readInParts()).isTrue();
    assertThat(rows(bytes, true)).isEqualTo(rows(bytes, false));
  }

  /** Commas lead to another node than numbers do: never a quiet mixture. */
  @Test
  void oneCommaTooManyIsRefused() throws IOException {
    String text = new String(random(4, 80_000), StandardCharsets.ISO_8859_1);
    int row = text.indexOf("\n,", text.indexOf("\"nodes\":[") + 1000);
    String damaged = text.substring(0, row) + "," + text.substring(row);
    assertThatThrownBy(() -> read(damaged.getBytes(StandardCharsets.ISO_8859_1), true))
        .isInstanceOf(CorruptInputException.class)
        .hasMessageContaining("office.heapsnapshot: damaged at byte ");
  }
}
