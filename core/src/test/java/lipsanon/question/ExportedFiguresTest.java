package lipsanon.question;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.Comparator;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.TreeMap;
import lipsanon.format.hprof.HprofBuilder;
import lipsanon.format.v8.V8Builder;
import lipsanon.index.Snapshot;
import lipsanon.io.Progress;
import lipsanon.label.Closed;
import lipsanon.label.ObjectRow;
import lipsanon.label.Step;
import lipsanon.label.TypeFilter;
import lipsanon.select.Removal;
import lipsanon.select.Selections;
import lipsanon.snapshot.Snapshots;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/**
 * Random dumps with every kind of reference: each figure that any question gives follows from the
 * exported tables by the definitions, whether it was computed on the heap or in scratch files.
 */
public class ExportedFiguresTest {
  private static final int STICKY = 0x05;
  private static final int JNI_GLOBAL = 0x01;
  private static final int FRAME = 0x03;
  private static final int THREAD = 0x08;
  private static final long THREAD_ID = 0x9_0000;

  @TempDir Path folder;

  /** A quay of berths, ropes, lists, and references of every strength, tied at random. */
  public static byte[] random(long seed) {
    Random random = new Random(seed);
    int count = 20 + random.nextInt(70);
    long[] ids = new long[count];
    for (int i = 0; i < count; i++) {
      ids[i] = 0x1_0000 + i * 0x40L;
    }
    HprofBuilder b =
        new HprofBuilder(random.nextBoolean() ? 8 : 4)
            .type(0x1000, "java.lang.Object", 0, Map.of())
            .type(0x1100, "java.lang.Class", 0x1000, Map.of())
            .type(0x1200, "[Ljava.lang.Object;", 0x1000, Map.of())
            .type(0x1300, "java.lang.Thread", 0x1000, Map.of(), "name:2")
            .type(0x1400, "java.lang.ref.Reference", 0x1000, Map.of(), "referent:2", "next:2")
            .type(0x1500, "java.lang.ref.WeakReference", 0x1400, Map.of())
            .type(0x1600, "java.lang.ref.SoftReference", 0x1400, Map.of())
            .type(0x1700, "java.lang.ref.FinalReference", 0x1400, Map.of())
            .type(0x1800, "harbour.Berth", 0x1000, Map.of("FIRST", ids[0]), "left:2", "right:2")
            .type(0x1900, "harbour.DryDock", 0x1800, Map.of(), "gate:2", "depth:10")
            .type(0x1a00, "harbour.Rope", 0x1000, Map.of("SPARE", ids[1]), "end:2", "length:7");
    for (int i = 0; i < count; i++) {
      b = object(b, random, ids, i);
    }
    b.instance(THREAD_ID, 0x1300, 0).root(THREAD, THREAD_ID, 3, 0);
    if (random.nextBoolean()) {
      b.root(FRAME, ids[random.nextInt(count)], 3, 0);
    }
    b.root(STICKY, 0x1800).root(JNI_GLOBAL, ids[random.nextInt(count)]);
    if (random.nextInt(3) > 0) {
      b.root(STICKY, 0x1a00);
    }
    return b.build();
  }

  private static HprofBuilder object(HprofBuilder b, Random random, long[] ids, int i) {
    long left = any(random, ids);
    long right = any(random, ids);
    return switch (random.nextInt(12)) {
      case 0 -> b.instance(ids[i], 0x1500, left, 0);
      case 1, 2 -> b.instance(ids[i], 0x1600, left, 0);
      case 3 -> b.instance(ids[i], 0x1700, left, right);
      case 4, 5 -> b.array(ids[i], 0x1200, left, right, any(random, ids), left);
      case 6 -> b.bytes(ids[i], new byte[random.nextInt(20)]);
      case 7, 8 -> b.instance(ids[i], 0x1a00, left, i);
      case 9 -> b.instance(ids[i], 0x1900, any(random, ids), i, left, right);
      default -> b.instance(ids[i], 0x1800, left, right);
    };
  }

  /** Mostly a neighbour, so that there are chains and cycles; sometimes nothing. */
  private static long any(Random random, long[] ids) {
    return random.nextInt(5) == 0 ? 0 : ids[random.nextInt(ids.length)];
  }

  private Snapshot open(String name, byte[] dump, long memory) throws Exception {
    Path file = Files.write(folder.resolve(name), dump);
    return Snapshots.open(file, new Snapshots.Options(null, folder, true, memory), Progress.NONE);
  }

  /** A page's heap: boards, closures, elements, tied by properties, elements and weak edges. */
  public static byte[] randomPage(long seed) throws Exception {
    Random random = new Random(seed);
    V8Builder b = new V8Builder();
    int[] roots = {
      b.node("synthetic", "", 1, 0),
      b.node("synthetic", "(GC roots)", 3, 0),
      b.node("synthetic", "(Global handles)", 5, 0)
    };
    int count = 20 + random.nextInt(70);
    int[] nodes = new int[count];
    String[] kinds = {"object", "object", "object", "closure", "array", "native", "string"};
    String[] names = {"harbour.Berth", "harbour.Rope", "Board", "onTide"};
    for (int i = 0; i < count; i++) {
      String kind = kinds[random.nextInt(kinds.length)];
      String name = names[random.nextInt(names.length)];
      nodes[i] = b.node(kind, name, 7 + 2L * i, random.nextInt(300));
    }
    b.edge(roots[0], "element", 1, roots[1]).edge(roots[1], "element", 1, roots[2]);
    b.edge(roots[2], "internal", "1", nodes[0]);
    for (int i = random.nextInt(3); i >= 0; i--) {
      String kind = random.nextInt(4) == 0 ? "weak" : "internal";
      b.edge(roots[random.nextInt(3)], kind, "handle", nodes[random.nextInt(count)]);
    }
    String[] edges = {"property", "property", "element", "internal", "context", "weak"};
    for (int i = 0; i < count; i++) {
      for (int e = random.nextInt(4); e > 0; e--) {
        String kind = edges[random.nextInt(edges.length)];
        Object name = kind.equals("element") ? (Object) e : "field" + e;
        b.edge(nodes[i], kind, name, nodes[random.nextInt(count)]);
      }
    }
    return b.bytes();
  }

  @ParameterizedTest
  @ValueSource(ints = {0, 1})
  void everyFigureOfDumps(int batch) throws Exception {
    everyFigure(batch * 30L, ".hprof", ExportedFiguresTest::random);
  }

  @ParameterizedTest
  @ValueSource(ints = {2, 3})
  void everyFigureOfPages(int batch) throws Exception {
    everyFigure(batch * 30L, ".heapsnapshot", ExportedFiguresTest::randomPage);
  }

  private interface Maker {
    byte[] make(long seed) throws Exception;
  }

  private void everyFigure(long firstSeed, String ending, Maker maker) throws Exception {
    for (long seed = firstSeed; seed < firstSeed + 30; seed++) {
      byte[] dump = maker.make(seed);
      List<ExportOracle.Row> rows;
      try (Snapshot s = open("heap" + seed + ending, dump, Long.MAX_VALUE)) {
        ExportOracle oracle = new ExportOracle(s);
        objects(oracle, seed);
        types(s, oracle, seed);
        keepers(s, oracle, seed);
        paths(s, oracle, seed);
        lists(s, oracle);
        new SetFigures(s, oracle, seed).check();
        rows = List.copyOf(oracle.objects.values());
      }
      try (Snapshot s = open("disk" + seed + ending, dump, 0)) {
        assertThat(new ExportOracle(s).objects.values())
            .as("seed %d in scratch files", seed)
            .containsExactlyElementsOf(rows);
      }
    }
  }

  private static void objects(ExportOracle oracle, long seed) {
    Map<String, Set<String>> dominated = oracle.dominated();
    Map<String, Long> depths = oracle.depths();
    for (ExportOracle.Row row : oracle.objects.values()) {
      String what = "seed " + seed + ", " + row;
      assertThat(row.strength()).as(what).isEqualTo(oracle.strength.get(row.id()));
      assertThat(row.depth()).as(what).isEqualTo(depths.get(row.id()));
      if (row.strength().equals("unretained")) {
        assertThat(row.retained()).as(what).isNull();
        assertThat(row.dominator()).as(what).isNull();
      } else {
        assertThat(row.retained()).as(what).isEqualTo(oracle.bytes(dominated.get(row.id())));
        assertThat(row.dominator()).as(what).isEqualTo(ExportOracle.dominator(row.id(), dominated));
      }
    }
  }

  private void types(Snapshot s, ExportOracle oracle, long seed) throws Exception {
    TypesAnswer answer =
        TypesQuestion.ask(s, TypeFilter.ALL, TypesQuestion.Sort.SHALLOW, Integer.MAX_VALUE);
    Map<String, List<ExportOracle.Row>> byType = new TreeMap<>();
    for (ExportOracle.Row row : oracle.objects.values()) {
      byType.computeIfAbsent(row.type(), key -> new ArrayList<>()).add(row);
    }
    assertThat(answer.types()).hasSameSizeAs(byType.keySet());
    assertThat(answer.types())
        .isSortedAccordingTo(Comparator.comparingLong(TypeRow::shallowBytes).reversed());
    for (TypeRow row : answer.types()) {
      List<ExportOracle.Row> members = byType.get(row.type());
      String what = "seed " + seed + ", " + row;
      assertThat(row.count()).as(what).isEqualTo(members.size());
      assertThat(row.shallowBytes())
          .as(what)
          .isEqualTo(members.stream().mapToLong(ExportOracle.Row::shallow).sum());
      Set<String> ids = new HashSet<>();
      members.forEach(member -> ids.add(member.id()));
      assertThat(row.retainedBytes()).as(what).isEqualTo(oracle.bytes(oracle.lost(ids)));
    }
    for (String type : List.of("harbour.Berth", "harbour.Rope", "java.lang.Object[]")) {
      List<Integer> numbers = Selections.types(s, type);
      Set<String> members = new HashSet<>();
      byType.getOrDefault(type, List.of()).forEach(row -> members.add(row.id()));
      long exact = Removal.of(s, Selections.set(s, numbers)).bytes();
      assertThat(exact)
          .as("seed %d, all %s", seed, type)
          .isEqualTo(numbers.isEmpty() ? 0 : oracle.bytes(oracle.lost(members)));
    }
  }

  private static void keepers(Snapshot s, ExportOracle oracle, long seed) throws Exception {
    KeepersAnswer top = KeepersQuestion.ask(s, -1, TypeFilter.ALL, Integer.MAX_VALUE);
    assertChildren(top, oracle, null, seed);
    for (ObjectRow keeper : top.keepers().subList(0, Math.min(3, top.keepers().size()))) {
      KeepersAnswer below =
          KeepersQuestion.ask(s, s.nodeOf(keeper.id()), TypeFilter.ALL, Integer.MAX_VALUE);
      assertChildren(below, oracle, keeper.id(), seed);
      assertThat(below.under().id()).isEqualTo(keeper.id());
    }
    long retained =
        oracle.objects.values().stream()
            .filter(row -> row.retained() != null)
            .mapToLong(ExportOracle.Row::shallow)
            .sum();
    assertThat(s.totals().retainedBytes()).isEqualTo(retained);
    assertThat(top.childrenRetainedBytes()).isEqualTo(retained);
  }

  private static void assertChildren(
      KeepersAnswer answer, ExportOracle oracle, String under, long seed) {
    List<ExportOracle.Row> children =
        oracle.objects.values().stream()
            .filter(row -> row.retained() != null)
            .filter(row -> java.util.Objects.equals(row.dominator(), under))
            .toList();
    assertThat(answer.children()).as("seed %d under %s", seed, under).isEqualTo(children.size());
    assertThat(answer.childrenRetainedBytes())
        .isEqualTo(children.stream().mapToLong(ExportOracle.Row::retained).sum());
    assertThat(answer.keepers())
        .isSortedAccordingTo(Comparator.comparingLong(ObjectRow::retainedBytes).reversed());
    assertThat(answer.keepers())
        .extracting(ObjectRow::id)
        .containsExactlyInAnyOrderElementsOf(children.stream().map(ExportOracle.Row::id).toList());
    for (KeepersAnswer.GroupRow group : answer.groups()) {
      assertThat(children.stream().filter(row -> row.type().equals(group.type())))
          .hasSize((int) group.count());
    }
  }

  /**
   * A path ends at its object, and is as long as that is deep; a longer one keeps to what is kept
   * as firmly as the object.
   */
  private static void paths(Snapshot s, ExportOracle oracle, long seed) throws Exception {
    for (ExportOracle.Row row : oracle.objects.values()) {
      WhyAnswer why = WhyQuestion.ofObject(s, s.nodeOf(row.id()), true, Closed.NAMES);
      if (row.depth() == null) {
        assertThat(why.paths()).isEmpty();
        assertThat(why.unretained()).isEqualTo(1);
      } else {
        List<Step> steps = why.paths().get(0).steps();
        long length = steps.stream().mapToLong(Step::repeats).sum();
        if (length != row.depth()) {
          assertThat(length).as("seed %d, %s", seed, row).isGreaterThan(row.depth());
          assertThat(steps)
              .as("seed %d, %s", seed, row)
              .extracting(step -> s.strength(s.nodeOf(step.id())))
              .allMatch(strength -> strength.compareTo(s.strength(s.nodeOf(row.id()))) <= 0);
        }
        assertThat(oracle.roots).contains(steps.get(0).id());
        assertThat(steps.get(steps.size() - 1).id()).isEqualTo(row.id());
        assertThat(why.paths().get(0).strength()).isEqualTo(row.strength());
      }
    }
  }

  /** Pages of a selection put together are the selection. */
  private static void lists(Snapshot s, ExportOracle oracle) throws Exception {
    BitSet berths = Selections.set(s, Selections.types(s, "harbour.*"));
    List<String> expected =
        oracle.objects.values().stream()
            .filter(row -> row.type().startsWith("harbour."))
            .map(ExportOracle.Row::id)
            .toList();
    List<String> got = new ArrayList<>();
    for (int skip = 0; skip < berths.cardinality(); skip += 7) {
      SiftAnswer page =
          SiftQuestion.ask(
              s,
              berths,
              new SiftQuestion.Options("all", false, SiftQuestion.Sort.RETAINED, 0, 1000));
      assertThat(page.count()).isEqualTo(expected.size());
      SiftAnswer part =
          SiftQuestion.ask(
              s,
              berths,
              new SiftQuestion.Options("all", false, SiftQuestion.Sort.SHALLOW, skip, 7));
      part.objects().forEach(row -> got.add(row.id()));
      assertThat(part.skipped()).isEqualTo(skip);
    }
    assertThat(got).containsExactlyInAnyOrderElementsOf(expected);
    for (int i = 1; i < got.size(); i++) {
      assertThat(oracle.objects.get(got.get(i)).shallow())
          .isLessThanOrEqualTo(oracle.objects.get(got.get(i - 1)).shallow());
    }
  }
}
