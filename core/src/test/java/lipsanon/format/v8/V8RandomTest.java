package lipsanon.format.v8;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import lipsanon.index.Reference;
import lipsanon.index.Snapshot;
import lipsanon.io.CorruptInputException;
import lipsanon.io.Progress;
import lipsanon.snapshot.Snapshots;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Snapshots of random graphs, long enough to be read in several parts, against a plain model. */
class V8RandomTest {
  private static final String[] KINDS = {"object", "array", "closure", "native", "string"};
  private static final String[] EDGES = {"property", "internal", "element", "hidden", "weak"};

  @TempDir Path folder;

  /** What the file says, kept by the test itself. */
  private static final class Model {
    final Map<Long, List<Long>> strong = new HashMap<>();
    final Map<Long, List<Long>> weak = new HashMap<>();
    final List<Long> roots = new ArrayList<>();
    final Map<Long, String> types = new HashMap<>();
    final Map<Long, Long> sizes = new HashMap<>();
    long bytes;
  }

  private static Model random(V8Builder builder, Random random, int count) {
    Model model = new Model();
    int[] nodes = new int[count];
    long[] ids = new long[count];
    boolean[] synthetic = new boolean[count];
    for (int i = 0; i < count; i++) {
      // identifiers in no order, some of them large
      ids[i] = (i * 7919L % count) * 2 + 1 + (i % 97 == 0 ? 2_200_000_000L : 0);
      synthetic[i] = i == 0 || random.nextInt(500) == 0;
      long size = synthetic[i] ? 0 : random.nextInt(200);
      String kind = synthetic[i] ? "synthetic" : KINDS[random.nextInt(KINDS.length)];
      String name = "name " + random.nextInt(60);
      nodes[i] = builder.node(kind, name, ids[i], size);
      model.types.put(ids[i], V8Types.name(kind, V8Types.isNamed(kind) ? name : ""));
      model.sizes.put(ids[i], size);
      model.bytes += size;
      model.strong.put(ids[i], new ArrayList<>());
      model.weak.put(ids[i], new ArrayList<>());
    }
    for (int i = 0; i < count; i++) {
      for (int e = random.nextInt(synthetic[i] ? 40 : 6); e > 0; e--) {
        int to = random.nextInt(count);
        String kind = EDGES[random.nextInt(EDGES.length)];
        Object name = kind.equals("element") || kind.equals("hidden") ? (Object) e : "edge " + e;
        boolean weak = kind.equals("weak");
        if (kind.equals("internal") && random.nextInt(4) == 0) {
          // of a weak map's table: weak only where the number is that of its own source
          boolean own = random.nextBoolean();
          name =
              e
                  + " / part of key (K @1) -> value (V @2) pair in WeakMap (table @"
                  + (own ? ids[i] : ids[i] + 2)
                  + ")";
          weak = own && !synthetic[i];
        }
        builder.edge(nodes[i], kind, name, nodes[to]);
        if (!synthetic[to] && synthetic[i] && !kind.equals("weak")) {
          model.roots.add(ids[to]);
        } else if (!synthetic[to] && !synthetic[i]) {
          (weak ? model.weak : model.strong).get(ids[i]).add(ids[to]);
        }
      }
    }
    return model;
  }

  private static Map<Long, Integer> depths(Model model) {
    Map<Long, Integer> depths = new HashMap<>();
    Deque<Long> pending = new ArrayDeque<>();
    for (long root : model.roots) {
      if (depths.putIfAbsent(root, 1) == null) {
        pending.add(root);
      }
    }
    while (!pending.isEmpty()) {
      long at = pending.poll();
      for (long to : model.strong.get(at)) {
        if (depths.putIfAbsent(to, depths.get(at) + 1) == null) {
          pending.add(to);
        }
      }
    }
    return depths;
  }

  @ParameterizedTest
  @ValueSource(longs = {1, 2, 20261123})
  void everyReferenceDepthAndRoot(long seed) throws Exception {
    V8Builder builder = new V8Builder();
    Model model = random(builder, new Random(seed), 60_000);
    Path file = folder.resolve("random.heapsnapshot");
    Files.write(file, builder.bytes());
    assertThat(Files.size(file)).as("several pieces of edges").isGreaterThan(4 * NumberList.PIECE);
    Map<Long, Integer> depths = depths(model);
    try (Snapshot s =
        Snapshots.open(file, new Snapshots.Options(null, folder, false, 1L << 30), Progress.NONE)) {
      assertThat(s.totals().shallowBytes()).isEqualTo(model.bytes);
      assertThat(s.roots()).hasSameSizeAs(model.roots);
      for (int n = 0; n < s.objectCount(); n++) {
        long id = s.rawId(n);
        assertThat(s.types().get(s.type(n)).name()).as("@" + id).isEqualTo(model.types.get(id));
        assertThat(s.shallowBytes(n)).as("@" + id).isEqualTo(model.sizes.get(id));
        assertThat(s.depth(n)).as("depth of @" + id).isEqualTo(depths.getOrDefault(id, 0));
        if (n % 50 == 0) {
          List<Long> strong = new ArrayList<>();
          List<Long> weak = new ArrayList<>();
          s.objects()
              .references(
                  n,
                  r -> (r.kind() == Reference.Kind.WEAK ? weak : strong).add(s.rawId(r.target())));
          assertThat(strong).as("references of @" + id).isEqualTo(model.strong.get(id));
          assertThat(weak).as("weak references of @" + id).isEqualTo(model.weak.get(id));
          assertThat(s.nodeOf("@" + id)).isEqualTo(n);
        }
      }
    }
  }

  /** In the middle of a list that is read in parts: one more, one less, or one that is none. */
  @ParameterizedTest
  @ValueSource(strings = {"+", "-", "x"})
  void aNumberTooManyAmongTheNodes(String what) throws Exception {
    V8Builder builder = new V8Builder();
    random(builder, new Random(5), 60_000);
    String text = new String(builder.bytes(), StandardCharsets.ISO_8859_1);
    int nodes = text.indexOf("\"nodes\"");
    for (int sixteenth = 1; sixteenth < 16; sixteenth += 2) {
      int middle = nodes + (text.indexOf("\"edges\"") - nodes) / 16 * sixteenth;
      int comma = text.indexOf(',', middle);
      int after = text.indexOf(',', comma + 1);
      String changed =
          switch (what) {
            case "+" -> text.substring(0, comma) + ",0" + text.substring(comma);
            case "-" -> text.substring(0, comma) + text.substring(after);
            default -> text.substring(0, comma + 1) + "x" + text.substring(comma + 2);
          };
      Path file = folder.resolve(sixteenth + ".heapsnapshot");
      Files.writeString(file, changed, StandardCharsets.ISO_8859_1);
      assertThatThrownBy(
              () ->
                  Snapshots.open(
                      file, new Snapshots.Options(null, folder, false, 1L << 30), Progress.NONE))
          .as("at " + sixteenth + "/16")
          .isInstanceOf(CorruptInputException.class);
    }
  }
}
