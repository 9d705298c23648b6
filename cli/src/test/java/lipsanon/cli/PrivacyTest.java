package lipsanon.cli;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.assertj.core.data.Percentage;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What is private stays out of answers, pages and copies; settings come from where they should. */
class PrivacyTest {
  private static final String SECRET = "Quartermaster-";

  /** A pilot whose data nobody else should see. */
  static final class Pilot {
    final String name;
    final long licence;

    Pilot(int number) {
      name = SECRET + number;
      licence = 471_100_000L + number;
    }
  }

  /** All pilots of the test, by their names. */
  static final Map<String, Pilot> PILOTS = new HashMap<>();

  @TempDir Path folder;

  private String dump(OwnHeap heap, String name, int pilots) throws Exception {
    for (int i = 0; i < pilots; i++) {
      Pilot pilot = new Pilot(PILOTS.size());
      PILOTS.put(pilot.name, pilot);
    }
    return heap.dump(name);
  }

  private static final String PILOT = "lipsanon.cli.PrivacyTest$Pilot";

  @Test
  void hiddenContentsStayOutOfEveryAnswer() throws Exception {
    OwnHeap heap = new OwnHeap(folder);
    String file = dump(heap, "pilots.hprof", 300);
    String id =
        heap.ask("sift", file, PILOT, "--limit", "1").path("objects").path(0).path("id").asText();
    List<String[]> questions =
        List.of(
            new String[] {"show", file, id},
            new String[] {"sift", file, "text contains \"" + SECRET + "\""},
            new String[] {"savings", file},
            new String[] {"refs", file, PILOT, "--out", "--depth", "2"},
            new String[] {"why", file, PILOT},
            new String[] {"keepers", file, PILOT},
            new String[] {"keepers", file, "--under", id},
            new String[] {"types", file},
            new String[] {"survey", file},
            new String[] {"report", file, "--output", folder.resolve("page.html").toString()});
    int shown = 0;
    for (String[] question : questions) {
      for (String form : new String[] {"", "--json", "--csv", "--markdown"}) {
        List<String> words = new ArrayList<>(List.of(question));
        if (question[0].equals("report")) {
          words.add("--force");
        } else if (!form.isEmpty()) {
          words.add(form);
        }
        OwnHeap.Run open = heap.run(words.toArray(String[]::new));
        assertThat(open.code()).as(open.err()).isZero();
        shown += open.out().contains(SECRET + "1") ? 1 : 0;
        words.add("--hide-contents");
        OwnHeap.Run hidden = heap.run(words.toArray(String[]::new));
        assertThat(hidden.code()).as(hidden.err()).isZero();
        assertThat(hidden.out()).as(String.join(" ", words)).doesNotContain(SECRET + "1");
        assertThat(hidden.out()).doesNotContain("4711000");
        if (question[0].equals("sift")) {
          assertThat(hidden.out()).as("found by its text all the same").contains("#");
        }
      }
    }
    assertThat(shown).as("answers that show it otherwise").isGreaterThanOrEqualTo(4);
    assertThat(Files.readString(folder.resolve("page.html"))).doesNotContain(SECRET + "1");
  }

  @Test
  void argumentsOfProgramsAreHiddenToo() throws Exception {
    OwnHeap heap = new OwnHeap(folder);
    try (Harbour harbour = new Harbour("--port", "0", "--password", "open-sesame")) {
      for (String[] question :
          new String[][] {
            {"runtimes", "--hide-contents"},
            {"runtimes", "--hide-contents", "--json"},
            {"watch", harbour.pid(), "--for", "2s", "--lines", "--hide-contents"},
            {
              "capture",
              harbour.pid(),
              "-o",
              folder.resolve("office.hprof").toString(),
              "--hide-contents"
            }
          }) {
        OwnHeap.Run run = heap.run(question);
        assertThat(run.code()).as(run.err()).isZero();
        assertThat(run.out() + run.err()).doesNotContain("open-sesame");
      }
    }
  }

  @Test
  void hashesAreTheSameInEveryAnswerOfOneUser() throws Exception {
    OwnHeap heap = new OwnHeap(folder);
    String file = dump(heap, "pilots.hprof", 10);
    String[] question = {"sift", file, PILOT, "--hide-contents", "--columns", "id,object,held"};
    assertThat(heap.run(question).out()).isEqualTo(heap.run(question).out());
    Path key = folder.resolve("config/lipsanon/hiding-key");
    assertThat(Files.getPosixFilePermissions(key)).hasSize(2);
    String before = Files.readString(key);
    assertThat(before.strip()).hasSize(32);
  }

  /** Everything but labels. */
  private static JsonNode figures(JsonNode answer) {
    if (answer instanceof ObjectNode object) {
      object.remove(List.of("label", "file", "snapshot", "snapshots", "files", "setAside"));
    }
    answer.forEach(PrivacyTest::figures);
    return answer;
  }

  @Test
  void aSeriesOfCopiesHasTheFiguresOfTheOriginals() throws Exception {
    OwnHeap heap = new OwnHeap(folder);
    List<String> originals = new ArrayList<>();
    List<String> copies = new ArrayList<>();
    for (int round = 0; round < 4; round++) {
      String file = dump(heap, round + ".hprof", 250);
      String copy = folder.resolve("copy-" + round + ".hprof").toString();
      OwnHeap.Run run = heap.run("redact", file, copy, "--keep-equality");
      assertThat(run.code()).as(run.err()).isZero();
      assertThat(run.out()).contains("redact --check");
      OwnHeap.Run check = heap.run("redact", "--check", file, copy);
      assertThat(check.code()).as(check.out()).isZero();
      originals.add(file);
      copies.add(copy);
    }
    for (String[] question :
        new String[][] {{"growth"}, {"types"}, {"keepers"}, {"survey"}, {"savings"}}) {
      List<String> a = new ArrayList<>(List.of(question));
      List<String> b = new ArrayList<>(List.of(question));
      boolean several = question[0].equals("growth");
      a.addAll(several ? originals : originals.subList(3, 4));
      b.addAll(several ? copies : copies.subList(3, 4));
      JsonNode before = figures(heap.ask(a.toArray(String[]::new)));
      JsonNode after = figures(heap.ask(b.toArray(String[]::new)));
      if (question[0].equals("savings")) {
        // what is equal is equal in the copy, but for places of code, whose ends stay readable
        assertThat((double) equalTexts(after))
            .isCloseTo(equalTexts(before) * 1.0, Percentage.withPercentage(2));
        continue;
      }
      assertThat(after).as(question[0]).isEqualTo(before);
      if (several) {
        assertThat(before.path("verdict").asText()).isEqualTo("growth");
      }
    }
    OwnHeap.Run found = heap.run("redact", "--check", originals.get(0), originals.get(1));
    assertThat(found.code()).isEqualTo(ExitCodes.CHECK_FAILED);
    assertThat(found.out()).contains("do not hand it over");
  }

  private static long equalTexts(JsonNode savings) {
    for (JsonNode kind : savings.path("kinds")) {
      if (kind.path("kind").asText().equals("equal texts")) {
        return kind.path("bytes").asLong();
      }
    }
    throw new AssertionError("no equal texts: " + savings);
  }

  @Test
  void settingsComeFromTheNearestPlace() throws Exception {
    Path project = Files.createDirectories(folder.resolve("harbour/src"));
    Path user = Files.createDirectories(folder.resolve("home/lipsanon"));
    Files.writeString(user.resolve("config.yaml"), "limit: 3\nbytes: true\nmine: [tide, berth]\n");
    Files.writeString(folder.resolve("harbour/lipsanon.yaml"), "limit: 4\nhide-contents: true\n");
    Map<String, String> environment =
        Map.of(
            "XDG_CONFIG_HOME", folder.resolve("home").toString(),
            "LIPSANON_MINE", "pilots",
            "LIPSANON_HIDE_CONTENTS", "false",
            "COLUMNS", "150");
    Tool.Result result = Tool.run(project, environment, "config", "--csv");
    assertThat(result.code()).as(result.both()).isZero();
    assertThat(result.out())
        .contains("limit,4," + folder.resolve("harbour/lipsanon.yaml"))
        .contains("bytes,true," + user.resolve("config.yaml"))
        .contains("mine,pilots,the variable LIPSANON_MINE")
        .as("what hides is not lifted")
        .contains("hide-contents,true," + folder.resolve("harbour/lipsanon.yaml"))
        .contains("index-dir,,not set");

    Files.writeString(folder.resolve("harbour/lipsanon.yaml"), "index-dir: /tmp\n");
    assertUsage(Tool.run(project, environment, "config"), "index-dir");
    Files.writeString(folder.resolve("harbour/lipsanon.yaml"), "limits: 4\n");
    assertUsage(Tool.run(project, environment, "types", "x.hprof"), "there is no setting limits");
    Files.writeString(folder.resolve("harbour/lipsanon.yaml"), "limit: many\n");
    assertUsage(Tool.run(project, environment, "config"), "a number from 1 on");
    Files.writeString(folder.resolve("harbour/lipsanon.yaml"), "limit: [1\nmine");
    assertUsage(Tool.run(project, environment, "config"), "line 2");
  }

  private static void assertUsage(Tool.Result result, String part) {
    assertThat(result.code()).as(result.both()).isEqualTo(ExitCodes.USAGE);
    assertThat(result.err()).contains(part).doesNotContain("Exception");
    assertThat(result.err().strip().lines()).hasSizeLessThanOrEqualTo(2);
  }
}
