package lipsanon.question;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import lipsanon.format.hprof.HprofBuilder;
import lipsanon.index.NodeCursor;
import lipsanon.index.Snapshot;
import lipsanon.io.Progress;
import lipsanon.label.TypeFilter;
import lipsanon.snapshot.Snapshots;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Random heaps of texts, arrays and collections: what could be saved, by its definition. */
class SavingsTest {
  private static final int STICKY = 0x05;
  private static final TypeFilter MINE = new TypeFilter(null, List.of(), false);

  @TempDir Path folder;

  /** What the test itself knows of an array or text that it made. */
  private record Known(long id, String contents) {}

  private final List<Known> texts = new ArrayList<>();
  private final List<Known> arrays = new ArrayList<>();
  private final Map<Long, Integer> nulls = new HashMap<>();
  private final List<Long> tickets = new ArrayList<>();
  private final List<Long> stale = new ArrayList<>();
  private long next = 0x1_0000;
  private int lines;

  private long id() {
    return next += 0x40;
  }

  private byte[] heap(Random random) {
    HprofBuilder b =
        new HprofBuilder(8)
            .type(0x1000, "java.lang.Object", 0, Map.of())
            .type(0x1100, "java.lang.Class", 0x1000, Map.of())
            .type(0x1200, "[Ljava.lang.Object;", 0x1000, Map.of())
            .type(0x1300, "java.lang.String", 0x1000, Map.of(), "value:2", "hash:10", "coder:8")
            .type(0x1400, "java.util.ArrayList", 0x1000, Map.of(), "elementData:2", "size:10")
            .type(
                0x1500,
                "harbour.Call",
                0x1000,
                Map.of(),
                "name:2",
                "cargo:2",
                "crates:2",
                "closed:4",
                "ticket:2")
            .type(0x1700, "harbour.Ticket", 0x1000, Map.of(), "number:10")
            .type(0x1800, "harbour.Notice", 0x1000, Map.of(), "call:2", "kind:10")
            .type(0x1900, "harbour.Board", 0x1000, Map.of(), "listeners:2", "size:10");
    int count = 5 + random.nextInt(60);
    long[] calls = new long[count];
    long all = id();
    long shared = id();
    b.instance(shared, 0x1700, 0);
    List<Long> notices = new ArrayList<>();
    for (int i = 0; i < count; i++) {
      long name = text(b, "vessel " + random.nextInt(8));
      long cargo = id();
      byte[] bytes = new byte[random.nextInt(4) * 40];
      Arrays.fill(bytes, (byte) random.nextInt(2));
      if (random.nextInt(3) == 0 && bytes.length > 0) {
        bytes[random.nextInt(bytes.length)] = 7;
      }
      b.bytes(cargo, bytes);
      arrays.add(new Known(cargo, Arrays.toString(bytes)));
      long elements = id();
      long[] slots = new long[random.nextInt(40)];
      int used = Math.min(slots.length, random.nextInt(12));
      Arrays.fill(slots, 0, used, name);
      b.array(elements, 0x1200, slots);
      nulls.put(elements, slots.length - used);
      long list = id();
      b.instance(list, 0x1400, elements, used);
      calls[i] = id();
      int closed = random.nextInt(2);
      long ticket = i < 2 || random.nextInt(3) == 0 ? shared : id();
      b.instance(calls[i], 0x1500, name, cargo, list, closed, ticket);
      if (ticket != shared) {
        b.instance(ticket, 0x1700, i);
        tickets.add(ticket);
      }
      if (random.nextBoolean()) {
        notices.add(id());
        b.instance(notices.get(notices.size() - 1), 0x1800, calls[i], 1);
        if (closed == 1) {
          stale.add(notices.get(notices.size() - 1));
        }
      }
    }
    long registered = id();
    b.array(registered, 0x1200, notices.stream().mapToLong(Long::longValue).toArray());
    nulls.put(registered, 0);
    long board = id();
    b.instance(board, 0x1900, registered, notices.size());
    b.array(all, 0x1200, calls);
    nulls.put(all, 0);
    lines = 30 + random.nextInt(60);
    long[] notes = new long[lines];
    for (int i = 0; i < lines; i++) {
      notes[i] = text(b, "a line of the journal of Port Merrow's harbour office, number " + i);
    }
    long journal = id();
    b.array(journal, 0x1200, notes);
    nulls.put(journal, 0);
    return b.type(
            0x1600,
            "harbour.Office",
            0x1000,
            Map.of("CALLS", all, "JOURNAL", journal, "BOARD", board))
        .root(STICKY, 0x1600)
        .build();
  }

  private long text(HprofBuilder b, String text) {
    long value = id();
    b.bytes(value, text.getBytes(StandardCharsets.ISO_8859_1));
    long id = id();
    b.instance(id, 0x1300, value, 0, 0);
    texts.add(new Known(id, text));
    return id;
  }

  private Snapshot open(byte[] dump) throws Exception {
    Path file = Files.write(folder.resolve("s.hprof"), dump);
    return Snapshots.open(file, new Snapshots.Options(null, folder, true, 1L << 30), Progress.NONE);
  }

  /** All but the largest of each group of equal contents. */
  private static long wasted(Snapshot s, List<Known> all) {
    Map<String, List<Long>> groups = new HashMap<>();
    for (Known one : all) {
      groups
          .computeIfAbsent(one.contents(), key -> new ArrayList<>())
          .add(s.retainedBytes(s.nodeOf(one.id())));
    }
    long sum = 0;
    for (List<Long> sizes : groups.values()) {
      sum += sizes.stream().mapToLong(Long::longValue).sum();
      sum -= sizes.stream().mapToLong(Long::longValue).max().orElse(0);
    }
    return sum;
  }

  private static long kind(SavingsAnswer answer, String kind) {
    for (SavingsAnswer.Kind one : answer.kinds()) {
      if (one.kind().equals(kind)) {
        assertThat(one.places().stream().mapToLong(SavingsAnswer.Place::bytes).sum())
            .as("the places add up")
            .isEqualTo(one.bytes());
        assertThat(one.sentence()).doesNotContain("%");
        return one.bytes();
      }
    }
    return 0;
  }

  @ParameterizedTest
  @ValueSource(longs = {1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12})
  void sumsAreExact(long seed) throws Exception {
    try (Snapshot s = open(heap(new Random(seed)))) {
      SavingsAnswer answer = SavingsQuestion.ask(s, MINE, 1000);
      assertThat(kind(answer, "equal texts")).as("seed " + seed).isEqualTo(wasted(s, texts));
      assertThat(kind(answer, "equal arrays")).as("seed " + seed).isEqualTo(wasted(s, arrays));
      assertThat(kind(answer, "texts that begin alike"))
          .isEqualTo(lines < 50 ? 0 : 24L * (lines - 1));
      long same = 0;
      for (Known array : arrays) {
        String[] values = array.contents().replaceAll("[\\[\\]]", "").split(", ");
        if (values.length >= 64 && new HashSet<>(List.of(values)).size() == 1) {
          same += s.shallowBytes(s.nodeOf(array.id()));
        }
      }
      assertThat(kind(answer, "arrays of one value")).isEqualTo(same);
      long spare = 0;
      for (Map.Entry<Long, Integer> array : nulls.entrySet()) {
        long length = s.objects().length(s.nodeOf(array.getKey()));
        int empty = array.getValue();
        spare += empty >= 8 && 2L * empty > length ? 1L * empty * reference(s) : 0;
      }
      assertThat(kind(answer, "arrays mostly empty")).isEqualTo(spare);
      long empty = 0;
      for (int n = 0; n < s.objectCount(); n++) {
        if (s.typeName(n).equals("java.util.ArrayList") && s.objects().entries(n, 1).size() == 0) {
          empty += s.retainedBytes(n);
        }
      }
      assertThat(kind(answer, "empty collections")).isEqualTo(empty);
      long closed = 0;
      for (int n = 0; n < s.objectCount(); n++) {
        boolean call = s.typeName(n).equals("harbour.Call");
        if (call && s.objects().fields(n, 9).get(3).value().equals("true")) {
          closed += s.retainedBytes(n);
        }
      }
      assertThat(kind(answer, "closed but held")).isEqualTo(closed);
      assertThat(kind(answer, "wrappers with one holder"))
          .isEqualTo(tickets.stream().mapToLong(id -> s.shallowBytes(s.nodeOf(id))).sum());
      assertThat(kind(answer, "listeners that outlive their subject"))
          .isEqualTo(stale.stream().mapToLong(id -> s.retainedBytes(s.nodeOf(id))).sum());
    }
  }

  /** So many that several threads read them. */
  @Test
  void manyTextsAreCountedAsFewAre() throws Exception {
    HprofBuilder b =
        new HprofBuilder(8)
            .type(0x1000, "java.lang.Object", 0, Map.of())
            .type(0x1200, "[Ljava.lang.Object;", 0x1000, Map.of())
            .type(0x1300, "java.lang.String", 0x1000, Map.of(), "value:2", "hash:10", "coder:8");
    Random random = new Random(7);
    long[] names = new long[250_000];
    for (int i = 0; i < names.length; i++) {
      names[i] = text(b, "x".repeat(random.nextInt(9)) + random.nextInt(90_000));
    }
    long all = id();
    b.array(all, 0x1200, names);
    b.type(0x1600, "harbour.Office", 0x1000, Map.of("NAMES", all)).root(STICKY, 0x1600);
    try (Snapshot s = open(b.build())) {
      SavingsAnswer answer = SavingsQuestion.ask(s, MINE, 1000);
      assertThat(kind(answer, "equal texts")).isEqualTo(wasted(s, texts)).isPositive();
      assertThat(answer).isEqualTo(SavingsQuestion.ask(s, MINE, 1000));
    }
  }

  /** A cursor reads what the columns hold, whatever the order. */
  @Test
  void cursorsReadTheSameFigures() throws Exception {
    try (Snapshot s = open(heap(new Random(3)))) {
      NodeCursor cursor = s.cursor();
      Random random = new Random(4);
      int node = 0;
      for (int i = 0; i < 20_000; i++) {
        int far = random.nextInt(s.objectCount());
        node =
            random.nextInt(9) == 0 ? far : Math.min(s.objectCount() - 1, node + random.nextInt(3));
        node = i % 400 == 0 ? 0 : node;
        assertThat(cursor.type(node)).isEqualTo(s.type(node));
        assertThat(cursor.dominator(node)).isEqualTo(s.dominator(node));
        assertThat(cursor.retainedBytes(node)).isEqualTo(s.retainedBytes(node));
        assertThat(cursor.position(node)).isEqualTo(s.position(node));
        assertThat(cursor.rawId(node)).isEqualTo(s.rawId(node));
        assertThat(cursor.nodeNear(s.rawId(far), node)).isEqualTo(far);
      }
    }
  }

  private static int reference(Snapshot s) {
    return s.facts().layout().referenceBytes();
  }

  @ParameterizedTest
  @ValueSource(longs = {21, 22, 23, 24, 25, 26})
  void theKeeperTreeIsTheDominatorTree(long seed) throws Exception {
    try (Snapshot s = open(ExportedFiguresTest.random(seed))) {
      KeeperTree tree = KeeperTreeQuestion.ask(s, MINE, 10_000);
      Set<String> told = new HashSet<>();
      for (KeeperTree.Node node : tree.nodes()) {
        int n = lipsanon.select.Selections.object(s, node.id());
        told.add(node.id());
        assertThat(node.retainedBytes()).isEqualTo(s.retainedBytes(n));
        int above = s.dominator(n);
        assertThat(node.parent() < 0 ? "" : tree.nodes().get(node.parent()).id())
            .isEqualTo(above < 0 ? "" : s.id(above));
      }
      for (int n = 0; n < s.objectCount(); n++) {
        if (s.depth(n) > 0) {
          assertThat(told).contains(s.id(n));
        }
      }
      KeeperTree few = KeeperTreeQuestion.ask(s, MINE, 3);
      assertThat(few.nodes()).isEqualTo(tree.nodes().subList(0, Math.min(3, tree.nodes().size())));
    }
  }
}
