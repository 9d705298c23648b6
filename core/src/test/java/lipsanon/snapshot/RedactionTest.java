package lipsanon.snapshot;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import lipsanon.format.hprof.HprofBuilder;
import lipsanon.format.v8.V8Builder;
import lipsanon.index.FieldValue;
import lipsanon.index.Snapshot;
import lipsanon.io.InputException;
import lipsanon.io.Progress;
import lipsanon.label.Closed;
import lipsanon.question.ExportedFiguresTest;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Copies have the same graph and sizes as their originals, and none of their contents. */
class RedactionTest {
  private static final int STICKY = 0x05;
  private static final byte[] KEY = "sixteen bytes   ".getBytes(StandardCharsets.US_ASCII);

  @TempDir Path folder;
  private Path scratch;

  @BeforeEach
  void makeScratch() throws Exception {
    scratch = Files.createDirectory(folder.resolve("scratch"));
  }

  private Path copy(Path original, byte[] key) throws Exception {
    Path copy =
        original.resolveSibling((key == null ? "filled-" : "keyed-") + original.getFileName());
    Redaction.copy(
        original, copy, scratch, new Redaction.Options(key, Closed::isName), Progress.NONE);
    return copy;
  }

  private Redaction.Check check(Path original, Path copy) throws Exception {
    return Redaction.check(original, copy, scratch, Closed::isName, Progress.NONE);
  }

  private Snapshot open(Path file) throws Exception {
    return Snapshots.open(file, new Snapshots.Options(null, folder, true, 1L << 30), Progress.NONE);
  }

  private static void assertSameGraph(Snapshot a, Snapshot b) throws Exception {
    assertThat(b.objectCount()).isEqualTo(a.objectCount());
    assertThat(b.totals()).isEqualTo(a.totals());
    for (int n = 0; n < a.objectCount(); n++) {
      assertThat(b.id(n)).isEqualTo(a.id(n));
      assertThat(b.typeName(n)).isEqualTo(a.typeName(n));
      assertThat(b.shallowBytes(n)).isEqualTo(a.shallowBytes(n));
      assertThat(b.retainedBytes(n)).isEqualTo(a.retainedBytes(n));
      assertThat(b.dominator(n)).isEqualTo(a.dominator(n));
      assertThat(b.depth(n)).isEqualTo(a.depth(n));
      assertThat(b.strength(n)).isEqualTo(a.strength(n));
      assertThat(targets(b, n)).isEqualTo(targets(a, n));
      assertThat(b.objects().length(n)).isEqualTo(a.objects().length(n));
    }
  }

  private static List<Integer> targets(Snapshot s, int node) throws Exception {
    List<Integer> targets = new java.util.ArrayList<>();
    s.objects().references(node, reference -> targets.add(reference.target()));
    return targets;
  }

  @ParameterizedTest
  @ValueSource(longs = {1, 2, 3, 4, 5, 6, 7, 8})
  void randomDumpsKeepTheirGraph(long seed) throws Exception {
    Path original = Files.write(folder.resolve("harbour.hprof"), ExportedFiguresTest.random(seed));
    for (byte[] key : new byte[][] {null, KEY}) {
      Path copy = copy(original, key);
      assertThat(Files.size(copy)).isEqualTo(Files.size(original));
      try (Snapshot a = open(original);
          Snapshot b = open(copy)) {
        assertSameGraph(a, b);
      }
    }
  }

  @ParameterizedTest
  @ValueSource(longs = {1, 2, 3, 4, 5, 6, 7, 8})
  void randomPagesKeepTheirGraph(long seed) throws Exception {
    Path original =
        Files.write(folder.resolve("page.heapsnapshot"), ExportedFiguresTest.randomPage(seed));
    for (byte[] key : new byte[][] {null, KEY}) {
      try (Snapshot a = open(original);
          Snapshot b = open(copy(original, key))) {
        assertSameGraph(a, b);
        for (int n = 0; n < a.objectCount(); n++) {
          if (a.objects().isString(n)) {
            assertThat(b.objects().text(n, 99))
                .hasSameSizeAs(a.objects().text(n, 99))
                .isNotEqualTo(a.objects().text(n, 99));
          }
        }
      }
    }
  }

  /** Texts of the lengths that are replaced in different ways, equal ones among them. */
  private byte[] manifest(Random random) {
    HprofBuilder b =
        new HprofBuilder(8)
            .type(0x1000, "java.lang.Object", 0, Map.of())
            .type(0x1200, "[Ljava.lang.Object;", 0x1000, Map.of())
            .type(0x1300, "java.lang.String", 0x1000, Map.of(), "value:2", "hash:10", "coder:8")
            .type(0x1400, "java.util.ArrayList", 0x1000, Map.of(), "elementData:2", "size:10")
            .type(
                0x1500,
                "harbour.Call",
                0x1000,
                Map.of(),
                "name:2",
                "draught:11",
                "closed:4",
                "paid:4");
    long next = 0x1_0000;
    long[] calls = new long[60];
    for (int i = 0; i < calls.length; i++) {
      byte[] text = new byte[random.nextInt(24)];
      for (int k = 0; k < text.length; k++) {
        text[k] = (byte) ("almatide".charAt(random.nextInt(text.length < 3 ? 8 : 2)));
      }
      b.bytes(next, text);
      b.instance(next + 0x40, 0x1300, next, Arrays.hashCode(text), 0);
      calls[i] = next + 0x80;
      b.instance(calls[i], 0x1500, next + 0x40, 4711 + i % 7, i & 1, i & 1);
      next += 0x100;
    }
    b.array(next, 0x1200, calls);
    b.instance(next + 0x800, 0x1400, next, calls.length);
    return b.type(0x1600, "harbour.Office", 0x1000, Map.of("CALLS", next + 0x800))
        .root(STICKY, 0x1600)
        .build();
  }

  @ParameterizedTest
  @ValueSource(longs = {11, 12, 13})
  void contentsGoAndEqualityStaysWhereItIsAskedFor(long seed) throws Exception {
    Path original = Files.write(folder.resolve("manifest.hprof"), manifest(new Random(seed)));
    assertThat(check(original, original).foundAt()).as("the original is no copy").isNotNegative();
    for (byte[] key : new byte[][] {null, KEY}) {
      Path copy = copy(original, key);
      Redaction.Check check = check(original, copy);
      assertThat(check.foundAt()).isEqualTo(-1);
      assertThat(check.texts()).isPositive();
      Map<String, String> forward = new HashMap<>();
      Map<String, String> backward = new HashMap<>();
      try (Snapshot a = open(original);
          Snapshot b = open(copy)) {
        assertSameGraph(a, b);
        for (int n = 0; n < a.objectCount(); n++) {
          switch (a.typeName(n)) {
            case "java.lang.String" -> {
              String before = a.objects().text(n, 99);
              String after = b.objects().text(n, 99);
              assertThat(after).hasSameSizeAs(before);
              if (key == null) {
                assertThat(after).matches("\\**");
              } else {
                assertThat(forward.putIfAbsent(before, after)).isIn(null, after);
                assertThat(backward.putIfAbsent(after, before)).isIn(null, before);
              }
            }
            case "harbour.Call" -> {
              List<FieldValue> before = a.objects().fields(n, 9);
              List<FieldValue> after = b.objects().fields(n, 9);
              assertThat(after.get(1).value()).as("a value").isNotEqualTo(before.get(1).value());
              assertThat(after.get(2)).as("done with").isEqualTo(before.get(2));
              assertThat(after.get(3).value()).as("any other flag").isEqualTo("false");
            }
            case "java.util.ArrayList" ->
                assertThat(b.objects().entries(n, 99)).isEqualTo(a.objects().entries(n, 99));
            default -> {}
          }
        }
      }
    }
  }

  /** A text that is a name at one place and contents at another; keys of a table; a script. */
  @Test
  void namesStayAndTextsOfTheSameLettersGo() throws Exception {
    V8Builder b = new V8Builder();
    int root = b.node("synthetic", "", 1, 0);
    int roots = b.node("synthetic", "(GC roots)", 3, 0);
    int table = b.node("object", "Object", 5, 40);
    int board = b.node("object", "TideBoard", 7, 40);
    int text = b.node("string", "TideBoard", 9, 24);
    int script = b.node("code", "/home/alma/harbour/office.js", 11, 80);
    int scriptName = b.node("string", "/home/alma/harbour/office.js", 13, 48);
    int element = b.node("native", "<section id=\"alma\">", 15, 80);
    b.edge(root, "element", 1, roots)
        .edge(roots, "element", 1, table)
        .edge(roots, "element", 2, board)
        .edge(board, "property", "TideBoard", text)
        .edge(board, "internal", "script", script)
        .edge(script, "internal", "name", scriptName)
        .edge(board, "property", "element", element);
    for (int i = 0; i < 40; i++) {
      b.edge(table, "property", i == 0 ? "TideBoard" : "berth of " + i, text);
    }
    Path original = Files.write(folder.resolve("office.heapsnapshot"), b.bytes());
    for (byte[] key : new byte[][] {null, KEY}) {
      Path copy = copy(original, key);
      assertThat(check(original, copy).foundAt()).isEqualTo(-1);
      assertThat(Files.readString(copy))
          .doesNotContain("alma")
          .doesNotContain("berth of")
          .contains("office.js")
          .contains("<section id=");
      try (Snapshot a = open(original);
          Snapshot c = open(copy)) {
        assertSameGraph(a, c);
        int node = c.nodeOf("@7");
        assertThat(c.typeName(node)).isEqualTo("TideBoard");
        assertThat(c.objects().viaTo(node, c.nodeOf("@9")).text()).isEqualTo("TideBoard.TideBoard");
        assertThat(c.objects().text(c.nodeOf("@9"), 99)).hasSize(9).isNotEqualTo("TideBoard");
        assertThat(c.objects().fields(c.nodeOf("@5"), 99))
            .hasSize(40)
            .noneMatch(field -> field.via().name().contains("erth"))
            .noneMatch(field -> field.via().name().equals("TideBoard"));
      }
    }
  }

  /** Damage ends in one of the errors of input, never in a copy that is taken for whole. */
  @Test
  void damagedOriginalsGiveNoCopy() throws Exception {
    byte[] whole = manifest(new Random(5));
    Path damaged = folder.resolve("damaged.hprof");
    Path copy = folder.resolve("copy.hprof");
    for (int length = 40; length < whole.length; length += 97) {
      Files.write(damaged, Arrays.copyOf(whole, length));
      assertThatThrownBy(
              () ->
                  Redaction.copy(
                      damaged,
                      copy,
                      scratch,
                      new Redaction.Options(null, Closed::isName),
                      Progress.NONE))
          .isInstanceOf(InputException.class);
      assertThat(copy).doesNotExist();
    }
    try (var left = Files.list(folder)) {
      assertThat(left.map(path -> path.getFileName().toString()))
          .containsExactlyInAnyOrder("scratch", "damaged.hprof");
    }
  }
}
