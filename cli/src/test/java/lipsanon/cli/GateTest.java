package lipsanon.cli;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import javax.xml.parsers.DocumentBuilderFactory;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.w3c.dom.Document;

/** Budgets against dumps of the test's own heap. */
class GateTest {
  /** What piles up. */
  static final class Barge {
    final byte[] cargo = new byte[300];
  }

  static final List<Barge> BARGES = new ArrayList<>();
  private static final String BARGE = "lipsanon.cli.GateTest$Barge";

  @TempDir Path folder;

  @AfterEach
  void forget() {
    BARGES.clear();
  }

  private String dump(OwnHeap heap, String name, int barges) throws Exception {
    for (int i = 0; i < barges; i++) {
      BARGES.add(new Barge());
    }
    return heap.dump(name);
  }

  private String budgets(String text) throws Exception {
    return Files.writeString(folder.resolve("budget.yaml"), text).toString();
  }

  @Test
  void whatIsOverFailsAndWhatIsNotDoesNot() throws Exception {
    OwnHeap heap = new OwnHeap(folder);
    String file = dump(heap, "barges.hprof", 25);
    long retained = heap.ask("sift", file, BARGE, "--limit", "1").path("retainedBytes").asLong();
    String kept =
        budgets(
            "budgets:\n- {select: '%s', count: 25}\n- {select: '%s', retained: %d}\n- heap: 2GB\n"
                .formatted(BARGE, BARGE, retained));
    OwnHeap.Run fine = heap.run("gate", file, "--budget", kept);
    assertThat(fine.code()).as(fine.out() + fine.err()).isZero();
    assertThat(fine.out()).startsWith("All 3 budgets are kept.");
    String over =
        budgets(
            "budgets:\n- {name: \"barges <\\u0001> & co\", select: '%s', count: 24}\n- {select: '%s', retained: %d}\n"
                .formatted(BARGE, BARGE, retained - 1));
    String xml = folder.resolve("gate.xml").toString();
    OwnHeap.Run failed = heap.run("gate", file, "--budget", over, "--junit", xml);
    assertThat(failed.code()).as(failed.out() + failed.err()).isEqualTo(ExitCodes.CHECK_FAILED);
    assertThat(failed.out()).startsWith("2 of 2 budgets are exceeded.").contains("lipsanon why ");
    Document document =
        DocumentBuilderFactory.newInstance().newDocumentBuilder().parse(Path.of(xml).toFile());
    assertThat(document.getElementsByTagName("testcase").getLength()).isEqualTo(2);
    assertThat(document.getElementsByTagName("failure").getLength()).isEqualTo(2);
  }

  @Test
  void aTypeThatIsGoneIsNoError() throws Exception {
    OwnHeap heap = new OwnHeap(folder);
    String file = dump(heap, "barges.hprof", 1);
    String budget = budgets("budgets:\n- {select: harbour.NoSuchBarge, count: 0}\n");
    assertThat(heap.run("gate", file, "--budget", budget).code()).isZero();
  }

  @Test
  void growthIsMeasuredAndComparedWithAnEarlierRun() throws Exception {
    OwnHeap heap = new OwnHeap(folder);
    List<String> words = new ArrayList<>(List.of("gate"));
    for (int i = 0; i < 4; i++) {
      words.add(dump(heap, i + ".hprof", 70));
    }
    String budget =
        budgets(
            "actions: 7\nbudgets:\n- {name: growth, growth: 100}\n- {name: barges, select: '"
                + BARGE
                + "', count: 1000}\n");
    words.addAll(List.of("--budget", budget));
    words.add("--json");
    OwnHeap.Run first = heap.run(words.toArray(String[]::new));
    assertThat(first.code()).as(first.err()).isEqualTo(ExitCodes.CHECK_FAILED);
    JsonNode rows = Schemas.JSON.readTree(first.out()).path("budgets");
    assertThat(rows.path(0).path("value").asLong())
        .as("ten barges with every action")
        .isBetween(3000L, 4000L);
    assertThat(rows.path(0).path("steps")).isNotEmpty();
    assertThat(rows.path(1).path("value").asLong()).isEqualTo(280);
    Path baseline = Files.writeString(folder.resolve("base.json"), first.out());
    words.set(1, dump(heap, "5.hprof", 70));
    words.addAll(List.of("--baseline", baseline.toString()));
    JsonNode second = Schemas.JSON.readTree(heap.run(words.toArray(String[]::new)).out());
    assertThat(second.path("budgets").path(1).path("baseline").asLong()).isEqualTo(280);
    assertThat(second.path("budgets").path(1).path("value").asLong()).isEqualTo(350);
    assertThat(second.path("budgets").path(1).path("worse").asBoolean()).isTrue();
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "budgets: [{growth: 1}]|needs a series of two or more",
        "budgets: [{count: 1}]|needs `select:`",
        "budgets: [{heap: lots}]|is no size",
        "budgets: [{heap: 1MB|line 1",
        "budgets: [{harbour: 1}]|there is no \"harbour\""
      })
  void whatCannotBeUnderstoodIsSaidInALine(String text, String said) throws Exception {
    OwnHeap heap = new OwnHeap(folder);
    String file = dump(heap, "barges.hprof", 1);
    OwnHeap.Run run = heap.run("gate", file, "--budget", budgets(text));
    assertThat(run.code()).isEqualTo(ExitCodes.USAGE);
    assertThat(run.err()).contains(said).doesNotContain("Exception");
  }

  /** A snapshot that is taken again under its name has savings of its own. */
  @Test
  void aSavingOfTheSnapshotBeforeIsNotTold() throws Exception {
    OwnHeap heap = new OwnHeap(folder);
    String file = dump(heap, "barges.hprof", 20_000);
    String before = saving(heap.run("survey", file).out());
    Files.delete(Path.of(file));
    BARGES.clear();
    heap.dump("barges.hprof");
    assertThat(saving(heap.run("survey", file).out())).isNotEqualTo(before);
  }

  private static String saving(String survey) {
    return survey
        .lines()
        .filter(line -> line.startsWith("Could be saved: "))
        .findFirst()
        .orElseThrow();
  }
}
