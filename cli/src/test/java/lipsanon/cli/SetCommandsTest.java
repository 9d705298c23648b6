package lipsanon.cli;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.io.ByteArrayInputStream;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import javax.imageio.ImageIO;
import javax.xml.parsers.DocumentBuilderFactory;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Questions about sets, on a heap of known contents: ferries with crews, some moored twice. */
class SetCommandsTest {
  private static final int FERRIES = 120;
  private static final int TWICE = 30;
  private static final String FERRY = Ferry.class.getName();

  @TempDir static Path folder;
  private static String file;
  private static String later;

  /** Somebody aboard; a crew of two knows each other. */
  private static final class Hand {
    final String name;
    Hand mate;

    Hand(String name) {
      this.name = name;
    }
  }

  /** A ferry. */
  private static final class Ferry {
    final Hand captain;
    final int berth;
    final boolean closed;

    Ferry(int berth) {
      this.berth = berth;
      this.closed = berth % 4 == 0;
      captain = new Hand("captain of berth " + berth);
      captain.mate = new Hand("mate of berth " + berth);
      captain.mate.mate = captain;
    }
  }

  /** Two lists, of which the second holds some ferries of the first. */
  private static final class Quay {
    static final List<Ferry> NORTH = new ArrayList<>();
    static final List<Ferry> SOUTH = new ArrayList<>();
  }

  @BeforeAll
  static void dump() throws Exception {
    for (int i = 0; i < FERRIES; i++) {
      Ferry ferry = new Ferry(i);
      Quay.NORTH.add(ferry);
      if (i < TWICE) {
        Quay.SOUTH.add(ferry);
      }
    }
    file = new OwnHeap(folder).dump("quay.hprof");
    for (int i = 0; i < 10; i++) {
      Quay.SOUTH.add(Quay.NORTH.get(TWICE + i));
    }
    later = new OwnHeap(folder).dump("later.hprof");
  }

  @AfterAll
  static void sail() {
    Quay.NORTH.clear();
    Quay.SOUTH.clear();
  }

  private static OwnHeap.Run run(String... args) {
    return new OwnHeap(folder).run(args);
  }

  private static JsonNode ask(String... args) throws Exception {
    return new OwnHeap(folder).ask(args);
  }

  private static int count(String selection) throws Exception {
    return ask("sift", file, selection).get("count").asInt();
  }

  @Test
  void selectionsNarrow() throws Exception {
    assertThat(count(FERRY)).isEqualTo(FERRIES);
    assertThat(count(FERRY + " and berth < 10")).isEqualTo(10);
    assertThat(count(FERRY + " and captain.mate.name = \"mate of berth 17\"")).isEqualTo(1);
    assertThat(count(FERRY + " and not captain.name contains 'berth 1'")).isEqualTo(FERRIES - 31);
    assertThat(count(FERRY + " and closed = true")).isEqualTo(FERRIES / 4);
    assertThat(count("java.lang.String and text = 'captain of berth 5'")).isEqualTo(1);
    assertThat(count("java.lang.String and text ~ 'mate of berth ?'")).isEqualTo(10);
    assertThat(count("SetCommandsTest$Hand and refers to (" + FERRY + ")")).isZero();
    assertThat(count("referred to by (" + FERRY + ") through captain")).isEqualTo(FERRIES);
    assertThat(count("SetCommandsTest$Hand and kept by " + FERRY)).isEqualTo(2 * FERRIES);
    assertThat(count("java.lang.Object[] and length >= 100 and refers to " + FERRY)).isEqualTo(1);
    assertThat(
            count(
                "kind java.util.AbstractList and refers to (Object[] and refers to " + FERRY + ")"))
        .isEqualTo(2);
  }

  @Test
  void theExactSizeOfASetAndItsPages() throws Exception {
    JsonNode all = ask("sift", file, FERRY, "--limit", "50", "--page", "3");
    assertThat(all.get("skipped").asInt()).isEqualTo(100);
    assertThat(all.get("objects")).hasSize(20);
    // a ferry, two hands, two names with their bytes each
    long each = all.get("retainedBytes").asLong() / FERRIES;
    assertThat(each).isBetween(150L, 400L);
    assertThat(all.get("retainedCount").asLong()).isBetween(7L * FERRIES, 7L * FERRIES + 2);
    OwnHeap.Run csv = run("sift", file, FERRY, "--all", "--csv", "--columns", "id,shallow,depth");
    assertThat(csv.out().lines()).hasSize(FERRIES + 1).first().isEqualTo("id,shallow,depth");
    OwnHeap.Run lines = run("sift", file, FERRY, "--all", "--json");
    assertThat(lines.out().lines()).hasSize(FERRIES).allMatch(line -> line.startsWith("{\"id\":"));
    assertThat(run("sift", file, FERRY, "--columns", "tonnage").err()).contains("depth");
    assertThat(run("sift", file, FERRY).out()).contains("(closed, still held)");
  }

  @Test
  void errorsOfASelectionPointAtThePlace() {
    OwnHeap.Run syntax = run("sift", file, FERRY + " and retained > 1xB");
    assertThat(syntax.code()).isEqualTo(2);
    String[] lines = syntax.err().split("\\R");
    assertThat(lines[0]).startsWith("lipsanon: selection: `1xB` is no number");
    assertThat(lines[2].indexOf('^')).isEqualTo(lines[1].indexOf("1xB"));
    OwnHeap.Run name = run("refs", file, "own and SetCommandsTest$Fery");
    assertThat(name.code()).isEqualTo(3);
    assertThat(name.err()).contains("near: " + FERRY);
    OwnHeap.Run field = run("sift", file, FERRY + " and captan.name = 'x'");
    assertThat(field.code()).isEqualTo(3);
    assertThat(field.err()).contains("no object that is asked has a field captan; near: captain");
  }

  @Test
  void referencesOfAWholeSet() throws Exception {
    JsonNode level = ask("refs", file, FERRY).get("levels").get(0);
    assertThat(level.get("count").asInt()).isEqualTo(FERRIES);
    assertThat(level.get("reached").asInt()).isEqualTo(FERRIES);
    assertThat(level.get("others").asInt()).isEqualTo(2);
    JsonNode captains = ask("refs", file, "SetCommandsTest$Hand").get("levels").get(0);
    boolean seen = false;
    for (JsonNode row : captains.get("rows")) {
      if (row.get("place").asText().endsWith("$Ferry.captain")) {
        seen = true;
        assertThat(row.get("members").asInt()).isEqualTo(FERRIES);
        assertThat(row.get("notMembers").asInt()).isEqualTo(FERRIES);
        assertThat(count(row.get("membersSelection").asText())).isEqualTo(FERRIES);
        assertThat(count(row.get("notMembersSelection").asText())).isEqualTo(FERRIES);
        assertThat(count(row.get("othersSelection").asText())).isEqualTo(FERRIES);
      }
    }
    assertThat(seen).isTrue();
    // mates know each other: these links lead nowhere new
    assertThat(captains.get("fromWithin").asInt()).isEqualTo(2 * FERRIES);
    JsonNode followed = ask("refs", file, FERRY, "--follow");
    assertThat(followed.get("ended").asText()).contains("Quay.NORTH");
    JsonNode out = ask("refs", file, FERRY, "--out").get("levels").get(0).get("rows");
    assertThat(out.get(0).get("field").asText()).isEqualTo("captain");
    assertThat(run("refs", file, FERRY, "--in", "--out").code()).isEqualTo(2);
  }

  @Test
  void referencesBeforeAndAfter() throws Exception {
    JsonNode diff = ask("diff", file, later, "--refs", FERRY);
    assertThat(diff.get("countBefore").asInt()).isEqualTo(FERRIES);
    assertThat(diff.get("countAfter").asInt()).isEqualTo(FERRIES);
    assertThat(diff.get("direction").asText()).isEqualTo("in");
    assertThat(run("diff", file, later, "--refs", FERRY).out()).contains("held by");
  }

  @Test
  void whoMustGoSoThatASetGoes() throws Exception {
    JsonNode answer = ask("keepers", file, FERRY);
    assertThat(answer.get("count").asInt()).isEqualTo(FERRIES);
    String text = answer.toString();
    assertThat(text).contains("Quay.NORTH");
    JsonNode up = ask("keepers", file, FERRY, "--up");
    assertThat(up.get("keepers").get(0).get("type").asText()).isEqualTo(FERRY);
    assertThat(run("keepers", file, FERRY, "--by", "kind").code()).isEqualTo(2);
    JsonNode kinds = ask("types", file, "--by", "kind");
    long sum = 0;
    for (JsonNode row : kinds.get("groups")) {
      sum += row.get("bytes").asLong();
    }
    assertThat(sum).isEqualTo(kinds.get("snapshot").get("retainedBytes").asLong());
    JsonNode roots = ask("keepers", file, "--by", "root", "--limit", "100");
    long kept = 0;
    for (JsonNode row : roots.get("groups")) {
      kept += row.get("bytes").asLong();
    }
    assertThat(kept).isEqualTo(kinds.get("snapshot").get("retainedBytes").asLong());
    for (String by : List.of("package", "loader", "thread")) {
      assertThat(run("types", file, "--by", by).out()).contains("█");
    }
  }

  @Test
  void cutsFreeWhatTheySay() throws Exception {
    JsonNode north =
        ask("why", file, FERRY, "--cut", "static " + Quay.class.getName() + ".NORTH")
            .get("cuts")
            .get(0);
    // those at the south quay stay
    assertThat(north.get("freesOfSet").asInt()).isEqualTo(FERRIES - TWICE);
    JsonNode plain =
        ask("why", file, FERRY, "--cut", "SetCommandsTest$Quay.NORTH").get("cuts").get(0);
    assertThat(plain.get("freesCount")).isEqualTo(north.get("freesCount"));
    JsonNode fewest = ask("why", file, FERRY, "--cuts").get("cuts");
    assertThat(fewest.get(0).get("freesOfSet").asInt()).isGreaterThanOrEqualTo(FERRIES - TWICE);
    OwnHeap.Run none = run("why", file, "--cut", FERRY + ".anchor");
    assertThat(none.code()).isEqualTo(3);
    assertThat(run("why", file).code()).isEqualTo(2);
  }

  @Test
  void mergedWaysAndTheirPictures() throws Exception {
    Path svg = folder.resolve("ways.svg");
    Path png = folder.resolve("ways.png");
    Path dot = folder.resolve("ways.dot");
    JsonNode why =
        ask(
            "why",
            file,
            FERRY,
            "--svg",
            svg.toString(),
            "--png",
            png.toString(),
            "--dot",
            dot.toString());
    long ends = 0;
    for (JsonNode node : why.get("ways").get("nodes")) {
      ends += node.get("members").asLong();
      if (node.get("parent").asInt() >= 0) {
        JsonNode parent = why.get("ways").get("nodes").get(node.get("parent").asInt());
        assertThat(node.get("leadsTo").asLong())
            .isLessThanOrEqualTo(parent.get("leadsTo").asLong());
      }
    }
    assertThat(ends).isEqualTo(FERRIES);
    try (InputStream in = new ByteArrayInputStream(Files.readAllBytes(svg))) {
      assertThat(
              DocumentBuilderFactory.newInstance()
                  .newDocumentBuilder()
                  .parse(in)
                  .getElementsByTagName("rect")
                  .getLength())
          .isGreaterThan(2);
    }
    assertThat(ImageIO.read(png.toFile()).getWidth()).isGreaterThan(200);
    assertThat(Files.readString(dot)).startsWith("digraph").contains("->");
    assertThat(run("why", file, FERRY, "--svg", "/no/such/folder/x.svg").code()).isEqualTo(3);
    assertThat(run("why", file, FERRY).out()).contains("All ways merged").contains("Ferry");
  }

  @Test
  void namesAreKeptBesideTheIndex() throws Exception {
    assertThat(run("sift", file, FERRY + " and closed = true", "--as", "laid-up").code()).isZero();
    assertThat(count("$laid-up")).isEqualTo(FERRIES / 4);
    assertThat(count("$laid-up and berth < 8")).isEqualTo(2);
    OwnHeap.Run unknown = run("sift", file, "$laid-ap");
    assertThat(unknown.code()).isEqualTo(3);
    assertThat(unknown.err()).contains("near: $laid-up");
    assertThat(run("sift", file, "own", "--as", "no name").code()).isEqualTo(2);
    run("sift", file, "$round", "--as", "round");
    assertThat(
            Files.readString(
                folder.resolve("quay.hprof.lipsanon/selections"), StandardCharsets.UTF_8))
        .startsWith("laid-up\t");
  }
}
