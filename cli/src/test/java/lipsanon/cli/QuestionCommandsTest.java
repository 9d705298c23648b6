package lipsanon.cli;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** Questions about this process's own heap, in which a fleet of known size lies at anchor. */
class QuestionCommandsTest {
  private static final int BARGES = 137;
  private static final int LATER = 40;
  private static final String BARGE = Barge.class.getName();

  @TempDir static Path folder;
  private static String before;
  private static String after;

  /** A barge with a hold of its own. */
  private static final class Barge {
    final byte[] hold;

    Barge(int tons) {
      hold = new byte[tons];
    }
  }

  /** Where they lie. */
  private static final class Anchorage {
    static final List<Barge> FLEET = new ArrayList<>();
  }

  @BeforeAll
  static void dump() throws Exception {
    for (int i = 0; i < BARGES; i++) {
      Anchorage.FLEET.add(new Barge(1000 + i));
    }
    before = new OwnHeap(folder).dump("before.hprof");
    for (int i = 0; i < LATER; i++) {
      Anchorage.FLEET.add(new Barge(5000));
    }
    after = new OwnHeap(folder).dump("after.hprof");
  }

  @AfterAll
  static void sail() {
    Anchorage.FLEET.clear();
  }

  private static OwnHeap.Run run(String... args) {
    return new OwnHeap(folder).run(args);
  }

  private static JsonNode ask(String... args) throws Exception {
    return new OwnHeap(folder).ask(args);
  }

  @Test
  void siftPagesThroughTheFleetLargestFirst() throws Exception {
    List<String> seen = new ArrayList<>();
    long last = Long.MAX_VALUE;
    for (int skip = 0; skip < BARGES; skip += 50) {
      JsonNode page = ask("sift", before, BARGE, "--limit", "50", "--skip", Integer.toString(skip));
      assertThat(page.get("count").asInt()).isEqualTo(BARGES);
      assertThat(page.get("skipped").asInt()).isEqualTo(skip);
      for (JsonNode object : page.get("objects")) {
        seen.add(object.get("id").asText());
        assertThat(object.get("retainedBytes").asLong()).isLessThanOrEqualTo(last);
        last = object.get("retainedBytes").asLong();
      }
    }
    assertThat(seen).hasSize(BARGES).doesNotHaveDuplicates();
    OwnHeap.Run text = run("sift", before, BARGE, "--limit", "5");
    assertThat(text.out()).contains("137").contains("--page 2 --limit 5");
    assertThat(ask("sift", before, BARGE, "--skip", "500").get("objects")).isEmpty();
  }

  @Test
  void siftCannotTellNewObjectsOfAJvm() {
    OwnHeap.Run run = run("sift", after, BARGE, "--new-since", before);
    assertThat(run.code()).isEqualTo(2);
    assertThat(run.err()).contains("cannot be told to be the same");
    assertThat(run.err().lines()).hasSize(1);
    assertThat(run.out()).isEmpty();
  }

  @ParameterizedTest
  @CsvSource({"retained, retainedBytes", "shallow, shallowBytes", "count, count"})
  void typesBySort(String sort, String figure) throws Exception {
    JsonNode types = ask("types", before, "--sort", sort, "--limit", "40").get("types");
    assertThat(types).hasSize(40);
    long last = Long.MAX_VALUE;
    for (JsonNode type : types) {
      assertThat(type.get(figure).asLong()).isLessThanOrEqualTo(last);
      last = type.get(figure).asLong();
    }
  }

  @Test
  void typesByNameAndExactly() throws Exception {
    JsonNode bound = ask("types", before, "--match", "*$Barge").get("types").get(0);
    assertThat(bound.get("type").asText()).isEqualTo(BARGE);
    assertThat(bound.get("count").asInt()).isEqualTo(BARGES);
    assertThat(bound.get("retainedExact").asBoolean()).isTrue();
    JsonNode exact = ask("types", before, "--match", "*$Barge", "--as-one");
    // every hold is its barge's alone: 1000 + i bytes and a header, rounded up to eight
    long holds = 0;
    for (int i = 0; i < BARGES; i++) {
      holds += (16 + 1000 + i + 7) / 8 * 8;
    }
    long retained = bound.get("retainedBytes").asLong();
    // and their class, if nothing else keeps that
    assertThat(retained - bound.get("shallowBytes").asLong() - holds).isBetween(0L, 500L);
    assertThat(exact.toString()).contains(Long.toString(bound.get("retainedBytes").asLong()));
    assertThat(run("types", before, "--as-one").code()).as("of what?").isEqualTo(2);
    assertThat(run("types", before, "--sort", "tonnage").code()).isEqualTo(2);
  }

  @Test
  void whyAndShowLeadToTheStaticList() throws Exception {
    JsonNode why = ask("why", before, BARGE);
    assertThat(why.get("objects").asInt()).isEqualTo(BARGES);
    String text = why.toString();
    assertThat(text).contains("static " + Anchorage.class.getName() + ".FLEET");
    String id = ask("sift", before, BARGE).get("objects").get(0).get("id").asText();
    assertThat(ask("why", before, id).toString()).contains("Anchorage.FLEET").contains(id);
    JsonNode show = ask("show", before, id);
    assertThat(show.get("object").get("type").asText()).isEqualTo(BARGE);
    assertThat(show.get("referencesIn")).isNotEmpty();
    assertThat(show.get("fields").get(0).get("name").asText()).contains("hold");
    String list = show.get("dominator").get("id").asText();
    JsonNode below = ask("keepers", before, "--under", list, "--limit", "3");
    assertThat(below.get("keepers")).hasSize(3);
    assertThat(below.get("under").get("id").asText()).isEqualTo(list);
  }

  @Test
  void diffAndGrowthCountTheNewOnes() throws Exception {
    JsonNode change = ask("diff", before, after, "--match", "Barge").get("types").get(0);
    assertThat(change.get("type").asText()).isEqualTo(BARGE);
    assertThat(change.get("countDifference").asInt()).isEqualTo(LATER);
    long each = change.get("retainedBytesDifference").asLong() / LATER;
    assertThat(each).isBetween(5000L, 5100L);
    JsonNode back = ask("diff", after, before, "--match", "Barge").get("types").get(0);
    assertThat(back.get("countDifference").asInt()).isEqualTo(-LATER);
    OwnHeap.Run growth = run("growth", before, after, "--actions", "20");
    assertThat(growth.out()).contains("Anchorage.FLEET");
  }

  @ParameterizedTest
  @ValueSource(strings = {"show", "why"})
  void objectsThatAreNotThere(String command) {
    for (String id : new String[] {"0x1", "@17", "0xffffffffffffffff", "No.Such.Type"}) {
      OwnHeap.Run run = run(command, before, id);
      assertThat(run.code()).as(command + " " + id + ": " + run.err()).isEqualTo(3);
      assertThat(run.err()).contains(id).doesNotContain("Exception");
      assertThat(run.err().lines()).hasSize(1);
      assertThat(run.out()).isEmpty();
    }
  }

  @Test
  void seriesNeedMoreThanOneSnapshot() {
    OwnHeap.Run one = run("growth", before);
    assertThat(one.code()).isEqualTo(2);
    assertThat(one.err()).contains("lipsanon:");
    assertThat(run("prove", before, after).code()).isEqualTo(2);
    assertThat(run("diff", before).code()).isEqualTo(2);
    assertThat(run("diff", before, folder.resolve("missing.hprof").toString()).code()).isEqualTo(3);
  }

  @Test
  void theIndexGoesWhereItIsToldTo() throws Exception {
    Path elsewhere = folder.resolve("indexes");
    OwnHeap.Run run = run("survey", before, "--index-dir", elsewhere.toString());
    assertThat(run.code()).as(run.err()).isZero();
    assertThat(elsewhere.resolve("before.hprof.lipsanon").resolve("meta")).exists();
    Path readOnly = Files.createDirectory(folder.resolve("copies"));
    Files.copy(Path.of(before), readOnly.resolve("c.hprof"));
    assertThat(run("types", readOnly.resolve("c.hprof").toString()).code()).isZero();
    assertThat(readOnly.resolve("c.hprof.lipsanon")).isDirectory();
  }

  /** Code, standard output and standard error of a command. */
  private static String[] told(String... args) {
    StringWriter out = new StringWriter();
    StringWriter err = new StringWriter();
    int code =
        Main.run(
            new PrintWriter(out),
            new PrintWriter(err),
            Map.of("XDG_CACHE_HOME", folder.resolve("cache").toString()),
            args);
    return new String[] {Integer.toString(code), out.toString(), err.toString()};
  }

  @Test
  void whatCannotHaveGrownIntoEachOtherIsRefused() throws Exception {
    for (String command : List.of("growth", "diff")) {
      String[] twice = told(command, before, before);
      assertThat(twice[0]).isEqualTo("2");
      assertThat(twice[2]).contains("given twice").hasLineCount(1);
    }
    Path copy = Files.copy(Path.of(before), folder.resolve("copy.hprof"));
    assertThat(told("growth", before, copy.toString())[2]).contains("are the same snapshot");
    String page =
        "{\"snapshot\":{\"meta\":{\"node_fields\":[\"type\",\"name\",\"id\",\"self_size\",\"edge_count\"],"
            + "\"node_types\":[[\"object\",\"synthetic\"]],\"edge_fields\":[\"type\",\"name_or_index\",\"to_node\"],"
            + "\"edge_types\":[[\"element\"]]},\"node_count\":2,\"edge_count\":1},"
            + "\"nodes\":[1,0,1,0,1,0,1,3,16,0],\"edges\":[0,1,5],\"strings\":[\"\",\"Quay\"]}";
    Path other = Files.writeString(folder.resolve("page.heapsnapshot"), page);
    String[] mixed = told("growth", before, other.toString());
    assertThat(mixed[0]).as(mixed[2]).isEqualTo("2");
    assertThat(mixed[2]).contains("is of JVM").contains("of V8").contains("cannot be compared");
    assertThat(told("growth", before, after, "--actions", "5,5")[2])
        .contains("one for each of the 1 intervals");
  }

  @Test
  void unknownNamesGetTheNearestOnes() {
    for (String command : List.of("why", "sift", "types")) {
      String[] words =
          command.equals("types")
              ? new String[] {command, before, "--match", "Bargge"}
              : new String[] {command, before, "Bargge"};
      String[] told = told(words);
      assertThat(told[0]).as(command).isEqualTo("3");
      assertThat(told[2]).contains("near: " + BARGE);
    }
  }

  @Test
  void exportsGoToStandardOutputOrToFilesThatNobodyElseReads() throws Exception {
    String[] told = told("export", before, "--objects", "-");
    assertThat(told[0]).isEqualTo("0");
    assertThat(told[1]).startsWith("id,type,shallowBytes").contains(BARGE);
    assertThat(told("export", before, "--objects", "-", "--references", "-")[0]).isEqualTo("2");
    Path file = folder.resolve("objects.csv");
    assertThat(told("export", before, "--objects", file.toString())[0]).isEqualTo("0");
    assertThat(Files.getPosixFilePermissions(file))
        .isEqualTo(java.nio.file.attribute.PosixFilePermissions.fromString("rw-------"));
    Path victim = Files.writeString(folder.resolve("victim"), "mine");
    Path link = Files.createSymbolicLink(folder.resolve("link.csv"), victim);
    String[] linked = told("export", before, "--objects", link.toString(), "--force");
    assertThat(linked[0]).isEqualTo("2");
    assertThat(victim).hasContent("mine");
    assertThat(told("export", before, "--objects", "/dev/null")[0]).isEqualTo("0");
    assertThat(Files.isRegularFile(Path.of("/dev/null"))).isFalse();
  }

  @Test
  void tablesForProgramsHaveDistinctColumns() {
    for (String command : List.of("growth", "diff", "types", "survey", "keepers")) {
      boolean two = command.equals("growth") || command.equals("diff");
      String csv =
          two ? told(command, before, after, "--csv")[1] : told(command, after, "--csv")[1];
      List<String> names = List.of(csv.lines().findFirst().orElse("").split(","));
      assertThat(names)
          .as(command)
          .hasSizeGreaterThan(2)
          .doesNotHaveDuplicates()
          .doesNotContain("");
    }
    assertThat(told("growth", before, after, "--csv")[1])
        .startsWith("what,heldBy,count,")
        .contains("static " + Anchorage.class.getName() + ".FLEET");
  }
}
