package lipsanon.cli;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import lipsanon.capture.CaptureOptions;
import lipsanon.capture.CaptureProgress;
import lipsanon.capture.dotnet.DotnetCapture;
import lipsanon.change.GrowthAnswer;
import lipsanon.change.GrowthQuestion;
import lipsanon.graph.Strength;
import lipsanon.holder.Finding;
import lipsanon.index.FieldValue;
import lipsanon.index.ObjectReader;
import lipsanon.index.Reference;
import lipsanon.index.RootInfo;
import lipsanon.index.Snapshot;
import lipsanon.io.Progress;
import lipsanon.label.Closed;
import lipsanon.label.TypeFilter;
import lipsanon.snapshot.Redaction;
import lipsanon.snapshot.Snapshots;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/**
 * Core dumps of real .NET processes, against what the runtime's own event stream and the program
 * itself say.
 */
class DotnetDumpTest {
  private static final int TIMES = 7;
  private static final int ROUNDS = 3;
  private static final int LONG = 3 * ROUNDS * TIMES;

  @TempDir Path folder;

  private final ObjectMapper json = new ObjectMapper();

  private Snapshot open(Path file) throws Exception {
    return Snapshots.open(file, new Snapshots.Options(null, folder, true, 1L << 30), Progress.NONE);
  }

  private Path take(DotnetYard yard, String name, boolean dump) throws Exception {
    Path file = folder.resolve(name);
    CaptureOptions options = new CaptureOptions(file, false, false, false);
    try (DotnetCapture capture = DotnetCapture.connect(yard.process.pid())) {
      capture.check(Snapshots::missing);
      if (dump) {
        capture.dump(options, CaptureProgress.NONE);
      } else {
        capture.capture(options, CaptureProgress.NONE);
      }
    }
    return file;
  }

  @ParameterizedTest
  @CsvSource({
    "workstation, ''",
    "server, DOTNET_gcServer=1",
    "segments, DOTNET_GCName=libclrgc.so"
  })
  void equalsTheEventStream(String heap, String variable) throws Exception {
    try (DotnetYard yard = new DotnetYard(DotnetYard.oddities(), variable)) {
      yard.say("heap 3000");
      // the first collections move objects; the last one of the stream is followed by nothing
      take(yard, "first.nettrace", false);
      try (Snapshot stream = open(take(yard, "a.nettrace", false));
          Snapshot dump = open(take(yard, "a.core", true))) {
        assertThat(dump.facts().warnings()).isEmpty();
        assertThat(dump.facts().version()).contains("9.0.1");
        DotnetComparison.compare(stream, dump, 6000);
      }
    }
  }

  /** A copy of a dump has the same objects and figures, and none of the texts. */
  @ParameterizedTest
  @CsvSource({"false", "true"})
  void aCopyHasTheFiguresAndNotTheTexts(boolean keepEquality) throws Exception {
    String secret = "Quartermaster-4711";
    try (DotnetYard yard = new DotnetYard(DotnetYard.oddities(), "HARBOUR_SECRET=" + secret)) {
      yard.say("heap 3000");
      Path original = take(yard, "office.core", true);
      Path copy = folder.resolve("copy.core");
      Path scratch = Files.createDirectory(folder.resolve("scratch"));
      byte[] key = keepEquality ? "sixteen bytes   ".getBytes() : null;
      Redaction.copy(
          original, copy, scratch, new Redaction.Options(key, Closed::isName), Progress.NONE);
      assertThat(Files.size(copy)).isEqualTo(Files.size(original));
      Redaction.Check check =
          Redaction.check(original, copy, scratch, Closed::isName, Progress.NONE);
      assertThat(check.foundAt()).isEqualTo(-1);
      assertThat(check.texts()).isGreaterThan(1000);
      assertThat(holds(original, secret)).as("the environment").isTrue();
      assertThat(holds(copy, secret)).isFalse();
      assertThat(
              Redaction.check(original, original, scratch, Closed::isName, Progress.NONE).foundAt())
          .isNotNegative();
      try (Snapshot a = open(original);
          Snapshot b = open(copy)) {
        assertThat(b.facts().warnings()).isEqualTo(a.facts().warnings());
        assertThat(b.totals()).isEqualTo(a.totals());
        Map<String, String> texts = new HashMap<>();
        for (int n = 0; n < a.objectCount(); n++) {
          assertThat(b.rawId(n)).isEqualTo(a.rawId(n));
          assertThat(b.typeName(n)).isEqualTo(a.typeName(n));
          assertThat(b.retainedBytes(n)).as(a.typeName(n)).isEqualTo(a.retainedBytes(n));
          assertThat(b.depth(n)).isEqualTo(a.depth(n));
          assertThat(DotnetComparison.targets(b, n)).isEqualTo(DotnetComparison.targets(a, n));
          ObjectReader.Entries entries = a.objects().entries(n, 3);
          if (entries != null) {
            assertThat(b.objects().entries(n, 3).size())
                .as(a.typeName(n))
                .isEqualTo(entries.size());
          }
          if (a.objects().isString(n)) {
            String before = a.objects().text(n, 999);
            String after = b.objects().text(n, 999);
            assertThat(after).hasSameSizeAs(before);
            if (keepEquality) {
              assertThat(texts.putIfAbsent(before, after)).isIn(null, after);
            } else {
              assertThat(after).matches("\\**");
            }
          }
        }
      }
    }
  }

  private static boolean holds(Path file, String text) throws Exception {
    // one byte a character, so that positions and characters agree
    return Files.readString(file, StandardCharsets.ISO_8859_1).contains(text);
  }

  /** An event stream tells no contents, but how the program was started and where it lies. */
  @Test
  void aCopyOfAStreamDoesNotTellTheCommandLine() throws Exception {
    try (DotnetYard yard = new DotnetYard(DotnetYard.oddities(), "")) {
      yard.say("heap 3000");
      Path original = take(yard, "office.nettrace", false);
      Path copy = folder.resolve("copy.nettrace");
      Path scratch = Files.createDirectory(folder.resolve("scratch"));
      Redaction.Options options = new Redaction.Options(null, Closed::isName);
      Redaction.copy(original, copy, scratch, options, Progress.NONE);
      Redaction.Check check =
          Redaction.check(original, copy, scratch, Closed::isName, Progress.NONE);
      assertThat(check.texts()).isPositive();
      assertThat(check.foundAt()).isEqualTo(-1);
      String line = yard.process.info().commandLine().orElse("");
      String program = line.substring(line.lastIndexOf('/', line.indexOf(".dll")) + 1);
      String twoBytes = program.strip().replaceAll("(.)", "$1\0");
      assertThat(holds(original, twoBytes)).as(program).isTrue();
      assertThat(holds(copy, twoBytes)).isFalse();
      try (Snapshot a = open(original);
          Snapshot b = open(copy)) {
        assertThat(b.totals()).isEqualTo(a.totals());
        for (int n = 0; n < a.objectCount(); n++) {
          assertThat(b.typeName(n)).isEqualTo(a.typeName(n));
          assertThat(b.retainedBytes(n)).isEqualTo(a.retainedBytes(n));
          assertThat(DotnetComparison.targets(b, n)).isEqualTo(DotnetComparison.targets(a, n));
        }
      }
    }
  }

  @Test
  void saysWhatTheProgramSaysOfItself() throws Exception {
    try (DotnetYard yard = new DotnetYard(DotnetYard.oddities())) {
      Map<String, String> told = new HashMap<>();
      for (String line = yard.say("tell"); !line.equals("done"); line = yard.next()) {
        String[] parts = line.split(" = ", 2);
        told.put(parts[0], parts[1]);
      }
      try (Snapshot dump = open(take(yard, "a.core", true))) {
        int derived = variable(dump, "Oddities.Store.Derived");
        Map<String, FieldValue> fields = new HashMap<>();
        for (FieldValue field : dump.objects().fields(derived, 100)) {
          fields.put(field.via().text().replace("Oddities.", ""), field);
        }
        assertThat(told).hasSizeGreaterThan(20);
        told.forEach(
            (name, value) -> {
              if (!name.startsWith("Store.") && !name.equals("Derived.Common")) {
                assertThat(plain(fields.get(name).value())).as(name).isEqualTo(value);
              }
            });
        assertThat(text(dump, variable(dump, "Oddities.Store.Text")))
            .isEqualTo(told.get("Store.Text"));
        assertThat(fields.get("Derived.When").value()).isEqualTo("2026-03-04T05:06:07Z");
        assertThat(fields.get("Derived.Fee").value()).isEqualTo("12.50");
        assertThat(fields.get("Derived.Id").value())
            .isEqualTo("00112233-4455-6677-8899-aabbccddeeff");
        assertThat(fields.get("Derived.Wait").value()).isEqualTo("PT1M30S");
        assertThat(fields.get("Derived.Maybe.value").value()).isEqualTo("5");
        assertThat(fields.get("Derived.Outer.Inner.To").value()).isEqualTo("20");
        assertThat(text(dump, fields.get("Derived.Pair.Second.Note").target()))
            .isEqualTo("second note");
        entries(dump);
        arrays(dump);
        roots(dump);
      }
    }
  }

  private static String plain(String value) {
    String bare = value.startsWith("'") ? value.substring(1, value.length() - 1) : value;
    return bare.equals("true") ? "True" : bare.equals("false") ? "False" : bare;
  }

  private static int variable(Snapshot dump, String name) {
    for (RootInfo root : dump.roots()) {
      if (root.named() && root.detail().equals(name)) {
        return root.node();
      }
    }
    throw new AssertionError("no static variable " + name);
  }

  private static String text(Snapshot dump, int node) throws Exception {
    return node < 0 ? null : dump.objects().text(node, 1000);
  }

  private static List<String> entries(Snapshot dump, String name) throws Exception {
    ObjectReader.Entries entries =
        dump.objects().entries(variable(dump, "Oddities.Store." + name), 100);
    assertThat(entries).as(name).isNotNull();
    List<String> texts = new ArrayList<>();
    for (ObjectReader.Entry entry : entries.entries()) {
      String key = entry.key() >= 0 ? text(dump, entry.key()) : entry.keyText();
      String value = entry.value() >= 0 ? text(dump, entry.value()) : entry.valueText();
      texts.add(key == null ? value : key + "=" + value);
    }
    assertThat(entries.size()).as(name).isEqualTo(texts.size());
    return texts;
  }

  private static void entries(Snapshot dump) throws Exception {
    assertThat(entries(dump, "List")).containsExactly("eins", "zwei", "drei");
    assertThat(entries(dump, "Map")).containsExactly("anchor=1", "chain=3");
    assertThat(entries(dump, "Bases")).hasSize(5).allMatch(entry -> entry.matches("[0-4]?0=null"));
    assertThat(entries(dump, "Set")).containsExactly("north", "south");
    assertThat(entries(dump, "Queue")).containsExactly("q2", "q3", "q4");
    assertThat(entries(dump, "Stack")).containsExactly("q1", "q2", "q3");
    assertThat(entries(dump, "Linked")).containsExactly("q1", "q2", "q3");
    assertThat(entries(dump, "Sorted")).containsExactly("q1=q1v", "q2=q2v", "q3=q3v");
    assertThat(entries(dump, "SortedList")).containsExactly("q1=q1w", "q2=q2w", "q3=q3w");
    assertThat(entries(dump, "Concurrent")).containsExactlyInAnyOrder("q1=q1x", "q2=q2x", "q3=q3x");
    assertThat(entries(dump, "ConcurrentQueue")).containsExactly("q1", "q2", "q3");
    assertThat(entries(dump, "ConcurrentStack")).containsExactly("q3", "q2", "q1");
    assertThat(entries(dump, "Bag")).containsExactlyInAnyOrder("q1", "q2", "q3");
    assertThat(entries(dump, "Hashtable")).containsExactlyInAnyOrder("q1=q1h", "q2=q2h", "q3=q3h");
    assertThat(entries(dump, "ArrayList")).containsExactly("old", "7");
    assertThat(entries(dump, "Immutable")).containsExactly("i1", "i2");
    assertThat(entries(dump, "ImmutableMap"))
        .containsExactlyInAnyOrder("q1=q1v", "q2=q2v", "q3=q3v");
  }

  private static List<String> values(Snapshot dump, String name) throws Exception {
    List<String> values = new ArrayList<>();
    for (FieldValue value : dump.objects().fields(variable(dump, "Oddities.Store." + name), 100)) {
      String text = value.target() < 0 ? value.value() : text(dump, value.target());
      values.add(value.via().text() + "=" + text);
    }
    return values;
  }

  private static void arrays(Snapshot dump) throws Exception {
    assertThat(values(dump, "Plane")).hasSize(12).contains("[6]=12");
    assertThat(values(dump, "Cube")).hasSize(12).contains("[11]=corner");
    assertThat(values(dump, "Shifted")).containsExactly("[0]=null", "[1]=sixth", "[2]=null");
    assertThat(values(dump, "Spans")).contains("[3].From=3", "[3].Note=n3", "[5].To=-5");
    assertThat(values(dump, "Deep")).contains("[1].First=deep 1", "[1].Second.Inner.Note=dn1");
    assertThat(values(dump, "Flags")).containsExactly("[0]=Up", "[1]=Down");
    assertThat(values(dump, "Reals")).containsExactly("[0]=1.25", "[1]=-2.5");
    assertThat(values(dump, "Chars")).containsExactly("[0]='a'", "[1]='ß'");
    assertThat(values(dump, "Bools")).containsExactly("[0]=true", "[1]=false");
    assertThat(text(dump, variable(dump, "Oddities.Store.BoxedFlag"))).isEqualTo("Half");
    assertThat(text(dump, variable(dump, "Oddities.Store.Boxed"))).isEqualTo("42");
    assertThat(values(dump, "BoxedSpan")).contains("Oddities.Span.Owner=owner of a box");
    assertThat(values(dump, "Outer")).contains("Oddities.Outer.Inner.Note=static note");
    assertThat(values(dump, "Emitted"))
        .containsExactly("Emitted.Buoy.Label=label of Buoy", "Emitted.Buoy.Depth=12");
    assertThat(values(dump, "Collected"))
        .containsExactly("Emitted.Float.Label=label of Float", "Emitted.Float.Depth=12");
    assertThat(values(dump, "Copy")).contains("Oddities.Base.hidden=11");
    assertThat(dump.type(variable(dump, "Oddities.Store.Copy")))
        .isNotEqualTo(dump.type(variable(dump, "Oddities.Store.Derived")));
    List<String> loaders = new ArrayList<>();
    dump.objects()
        .references(
            variable(dump, "Oddities.Store.Collected"),
            reference -> loaders.add(dump.typeName(reference.target())));
    assertThat(loaders).contains("System.Reflection.LoaderAllocator");
    assertThat(dump.objects().label(variable(dump, "Oddities.Store.Static"), 80))
        .isEqualTo("Oddities.Board.Plain");
  }

  private static void roots(Snapshot dump) throws Exception {
    assertThat(dump.roots())
        .anySatisfy(
            root -> {
              assertThat(root.kind()).isEqualTo(RootInfo.THREAD_STATIC);
              assertThat(root.detail()).isEqualTo("Oddities.Store.Mine of thread \"lookout\"");
              assertThat(dump.typeName(root.node())).isEqualTo("Oddities.Leaf");
            })
        .anySatisfy(
            root -> {
              assertThat(root.kind()).isEqualTo(RootInfo.THREAD_STATIC);
              assertThat(root.detail()).contains("Oddities.Store.Mine of the first thread");
            })
        .anySatisfy(root -> assertThat(root.perhaps()).isTrue());
    assertThat(variable(dump, "Oddities.Crate<System.String>.Last")).isNotNegative();
    assertThat(variable(dump, "Oddities.Crate<System.Int32>.Self")).isNotNegative();
    // what a weak table keeps hangs on its key
    int key = variable(dump, "Oddities.Store.WeakKey");
    List<String> kept = new ArrayList<>();
    dump.objects()
        .references(
            key,
            reference -> {
              try {
                kept.add(reference.kind() + " " + text(dump, reference.target()));
              } catch (Exception e) {
                throw new AssertionError(e);
              }
            });
    assertThat(kept).containsExactly(Reference.Kind.STRONG + " weakly 1");
    // 60 were dropped, and the finalizer is stuck in one
    long waiting = 0;
    for (int n = 0; n < dump.objectCount(); n++) {
      boolean doomed = dump.typeName(n).equals("Oddities.Doomed");
      waiting += doomed && dump.strength(n) == Strength.FINALIZER ? 1 : 0;
    }
    assertThat(waiting).isEqualTo(59);
    assertThat(dump.objects().onStacksAlone().objects()).isPositive();
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "EventHandlers | Yard.EventHandlers.Beacon.Flashed | Watch",
        "ThreadStatics | Yard.ThreadStatics.notes | Note",
        "NeverCompleted | Yard.NeverCompleted.lockGate | Crossing, Pass",
        "OwnCollection | Yard.OwnCollection.Store.crates | Crate"
      })
  void growthNamesTheField(String program, String holder, String what) throws Exception {
    try (DotnetYard yard = new DotnetYard(DotnetYard.yard(), program)) {
      GrowthAnswer answer = grow(yard);
      assertThat(answer.findings()).as(answer.toString()).isNotEmpty();
      Finding first = answer.findings().get(0);
      System.out.println("  " + program + ": " + first.what() + " held by " + first.heldBy());
      assertThat(first.heldBy()).as(answer.toString()).contains(holder);
      assertThat(what.split(", ")).anyMatch(one -> first.what().contains(one));
    }
  }

  @Test
  void growthFindsNothingInAHealthyProgram() throws Exception {
    try (DotnetYard yard = new DotnetYard(DotnetYard.yard(), "BoundedCache")) {
      GrowthAnswer answer = grow(yard);
      assertThat(answer.findings()).as(answer.toString()).isEmpty();
    }
  }

  private GrowthAnswer grow(DotnetYard yard) throws Exception {
    List<Snapshot> series = new ArrayList<>();
    try {
      yard.say("act " + 4 * TIMES);
      for (int round = 0; round <= ROUNDS + 1; round++) {
        yard.say("act " + (round == 0 ? 0 : round <= ROUNDS ? TIMES : LONG));
        series.add(open(take(yard, round + ".core", true)));
      }
      return GrowthQuestion.ask(
          series, new GrowthQuestion.Options(TypeFilter.ALL, List.of(TIMES, TIMES, TIMES, LONG)));
    } finally {
      for (Snapshot snapshot : series) {
        snapshot.close();
      }
    }
  }

  private JsonNode ask(String... args) throws Exception {
    Tool.Result result =
        Tool.run(
            folder, Stream.concat(Stream.of(args), Stream.of("--json")).toArray(String[]::new));
    assertThat(result.code()).as(result.both()).isZero();
    return json.readTree(result.out());
  }

  @Test
  void theWholeWayByCommands() throws Exception {
    try (DotnetYard office = new DotnetYard(DotnetYard.portMerrow())) {
      office.say("days 5");
      ask("capture", office.pid(), "-o", "a.nettrace");
      office.say("days 5");
      Tool.Result taken = Tool.run(folder, "capture", office.pid(), "--dump", "-o", "b.core");
      assertThat(taken.code()).as(taken.both()).isZero();
      assertThat(taken.err()).contains("stands still").contains("[createdump]");
      assertThat(taken.out()).contains("keep it to yourself").contains("lipsanon survey b.core");
      assertThat(Files.getPosixFilePermissions(folder.resolve("b.core"))).hasSize(2);
      Tool.Result twice = Tool.run(folder, "capture", office.pid(), "--dump", "-o", "b.core");
      assertThat(twice.code()).as(twice.both()).isEqualTo(ExitCodes.USAGE);
      Tool.Result both = Tool.run(folder, "capture", office.pid(), "--dump", "--light");
      assertThat(both.code()).isEqualTo(ExitCodes.USAGE);
    }
    JsonNode survey = ask("survey", "b.core");
    assertThat(survey.get("findings").get(0).get("sentence").asText())
        .contains("PortMerrow.VesselCall")
        .contains("PortMerrow.TideBoard.Turned");
    assertThat(survey.get("areas").get(0).get("freeBlocks").asLong()).isNotNegative();
    long blocks = 0;
    long sized = 0;
    for (JsonNode area : survey.get("areas")) {
      blocks += area.get("freeBlocks").asLong();
    }
    for (JsonNode size : survey.get("freeSizes")) {
      sized += size.get("blocks").asLong();
    }
    assertThat(sized).isEqualTo(blocks).isPositive();
    JsonNode why = ask("why", "b.core", "PortMerrow.VesselCall");
    assertThat(why.get("paths").get(0).get("count").asLong()).isEqualTo(400);
    assertThat(why.toString())
        .contains("PortMerrow.TideBoard.Turned")
        .contains("PortMerrow.Program.office");
    JsonNode named = ask("sift", "b.core", "PortMerrow.VesselCall and Vessel = 'MV Example 7'");
    assertThat(named.get("count").asLong()).isEqualTo(1);
    // a dump and an event stream of one process, by their types
    JsonNode diff = ask("diff", "a.nettrace", "b.core", "--match", "PortMerrow.VesselCall");
    assertThat(diff.toString()).contains("\"countBefore\":200").contains("\"countAfter\":400");
  }
}
