package lipsanon.cli;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** The commands about many snapshots, on dumps of the test's own VM. */
class FleetTest {
  /** What piles up. */
  static final class Crate {
    final byte[] load = new byte[300];
  }

  static final List<Crate> QUAY = new java.util.ArrayList<>();

  @TempDir static Path folder;
  private static Tool.Result first;

  @BeforeAll
  static void fleet() throws Exception {
    QUAY.clear(); // where a failed test is run again, all begins anew
    for (int time = 0; time < 3; time++) {
      for (int i = 0; i < 400; i++) {
        QUAY.add(new Crate());
      }
      Path file = folder.resolve("dumps/b7/quay-1/2026-11-2" + time + ".hprof");
      Files.createDirectories(file.getParent());
      java.lang.management.ManagementFactory.getPlatformMXBean(
              com.sun.management.HotSpotDiagnosticMXBean.class)
          .dumpHeap(file.toString(), true);
    }
    Files.writeString(folder.resolve("dumps/b7/quay-1/2026-11-23.hprof"), "<b>no</b> dump");
    first = fleet("dumps");
  }

  private static Tool.Result fleet(String... inputs) throws Exception {
    List<String> words = new java.util.ArrayList<>(List.of("fleet"));
    words.addAll(List.of(inputs));
    words.addAll(
        List.of(
            "--tables", "tables", "--labels", "{build}/{host}/{time}.hprof", "--mine", "lipsanon"));
    return Tool.run(folder, words.toArray(String[]::new));
  }

  private static Tool.Result run(String... words) throws Exception {
    return Tool.run(folder, words);
  }

  @Test
  void theFirstLineSaysWhatGrowsWhere() {
    assertThat(first.code()).as(first.both()).isZero();
    assertThat(first.out().lines().findFirst().orElse(""))
        .contains("lipsanon.cli.FleetTest$Crate grows on 1 of 1 hosts");
    assertThat(first.out())
        .contains("held by")
        .contains("FleetTest.QUAY")
        .contains("Open first: " + folder.resolve("dumps/b7/quay-1/2026-11-22.hprof"))
        .contains("Could not be looked at: 1")
        .contains("is no heap snapshot");
    // what it suggests can be pasted
    assertThat(first.out()).contains("lipsanon survey ").contains("lipsanon sql tables \"");
  }

  /**
   * One that fails among many is a row; where nothing at all could be looked at, a script stops.
   */
  @Test
  void whereAllFailTheExitCodeSaysSo() throws Exception {
    Files.createDirectories(folder.resolve("wrecks"));
    Files.writeString(folder.resolve("wrecks/a.hprof"), "no dump\nat all");
    Files.writeString(folder.resolve("wrecks/b.hprof"), "");
    Tool.Result all = run("fleet", "wrecks", "--tables", "of-wrecks");
    assertThat(all.code()).as(all.both()).isEqualTo(3);
    assertThat(all.out()).contains("Could not be looked at: 2").contains("a.hprof");
    String whole = "dumps/b7/quay-1/2026-11-20.hprof";
    Tool.Result some = run("fleet", "wrecks", whole, "--tables", "of-wrecks");
    assertThat(some.code()).as(some.both()).isZero();
    // what was done before counts
    assertThat(run("fleet", "wrecks", whole, "--tables", "of-wrecks").code()).isZero();
  }

  @Test
  void theTablesAnswerByThemselvesInEveryForm() throws Exception {
    Tool.Result json = run("fleet", "--tables", "tables", "--json");
    assertThat(json.code()).as(json.both()).isZero();
    JsonNode answer = Schemas.JSON.readTree(json.out());
    assertThat(answer.path("answer").asText()).isEqualTo("fleet");
    assertThat(answer.path("snapshots").asInt()).isEqualTo(3);
    assertThat(answer.path("failed").asInt()).isEqualTo(1);
    JsonNode top = answer.path("growing").path(0);
    assertThat(top.path("what").asText()).isEqualTo("lipsanon.cli.FleetTest$Crate");
    assertThat(top.path("countPerSnapshot").asDouble()).isEqualTo(400);
    assertThat(top.path("largestCount").asInt()).isEqualTo(1200);
    Tool.Result csv = run("fleet", "--tables", "tables", "--csv");
    assertThat(csv.out()).startsWith("hosts,since build,a snapshot,count,largest,what,held by");
    assertThat(fleet("dumps").out().replaceAll("\\s+", " "))
        .contains("this time 1 snapshot, 3 done before");
  }

  @Test
  void sqlReadsTheTablesAndOnlyReads() throws Exception {
    Tool.Result types =
        run(
            "sql",
            "tables",
            "select max(count) as most from types where type like '%FleetTest$Crate'",
            "--csv");
    assertThat(types.out()).as(types.both()).isEqualToNormalizingNewlines("most\n1200\n");
    for (String question :
        List.of(
            "copy (select 1) to 'tables/x.csv'",
            "select 1; copy (select 1) to 'tables/x.csv'",
            "describe types; drop view types",
            "create table x as select 1",
            "attach 'tables/x.db' as x",
            "set memory_limit = '1GB'",
            "install httpfs",
            "pragma database_list",
            "export database 'tables/x'")) {
      Tool.Result refused = run("sql", "tables", question);
      assertThat(refused.code()).as(question + refused.both()).isEqualTo(2);
      assertThat(refused.err()).contains("only questions (SELECT) can be asked");
    }
    for (String question :
        List.of(
            "select * from read_csv('/etc/passwd')",
            "select * from read_text('dumps/b7/quay-1/2026-11-23.hprof')",
            "select * from 'https://portmerrow.example/x.parquet'")) {
      Tool.Result refused = run("sql", "tables", question);
      assertThat(refused.code()).as(question + refused.both()).isEqualTo(2);
    }
    assertThat(folder.resolve("tables/x.csv")).doesNotExist();
    Tool.Result described = run("sql", "tables", "describe snapshots");
    assertThat(described.out()).contains("retained_bytes");
    Tool.Result none = run("sql", "dumps", "select 1 + 1");
    assertThat(none.err()).contains("a folder of tables that `fleet` wrote");
  }

  @Test
  void theReportShowsTheFleet() throws Exception {
    Tool.Result report = run("report", "tables", "--output", "fleet.html");
    assertThat(report.code()).as(report.both()).isZero();
    assertThat(report.out()).contains("lipsanon.cli.FleetTest$Crate grows on 1 of 1 hosts");
    String page = Files.readString(folder.resolve("fleet.html"));
    assertThat(page).contains("\"fleets\"").contains("FleetTest.QUAY").doesNotContain("<b>no</b>");
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "fleet | give snapshots or folders",
        "fleet gone | there is no such file or folder",
        "fleet --tables t empty | there is no snapshot in",
        "fleet dumps --labels {vessel} | there are {service}, {build}, {host}, {time}",
        "fleet dumps --workers 0 | --workers takes a number",
        "fleet dumps --task-memory 3 | takes a size such as",
        "fleet dumps --task-memory 1m | a task needs",
        "fleet dumps --task-timeout 0 | takes seconds",
        "fleet s3a://harbour/a.hprof | on a cluster only",
        "fleet dumps --tables t --on spark://127.0.0.1:1 | set SPARK_HOME",
        "fleet --tables hdfs://quay/fleet | add --copy-to DIR",
        "fleet dumps --tables hdfs://quay/fleet --copy-to c | written by a cluster (--on)",
        "fleet --tables hdfs://quay/fleet --copy-to c | set SPARK_HOME",
        "fleet --tables hdfs://quay/fleet --copy-to dumps | dumps holds other things than tables",
        "fleet --tables tables --copy-to c | tables is a folder"
      })
  void wrongUseIsToldInALine(String words, String message) throws Exception {
    Files.createDirectories(folder.resolve("empty"));
    Tool.Result result = Tool.run(folder, Map.of("SPARK_HOME", ""), words.split(" "));
    assertThat(result.code()).as(result.both()).isEqualTo(2);
    assertThat(result.err()).contains(message);
    assertThat(result.err().lines()).hasSizeLessThanOrEqualTo(2);
  }

  @Test
  void exportsGoEverywhereTheSame() throws Exception {
    String dump = "dumps/b7/quay-1/2026-11-20.hprof";
    for (String ending : List.of("csv", "jsonl", "parquet")) {
      Tool.Result result =
          run("export", dump, "--types", "types." + ending, "--roots", "roots." + ending);
      assertThat(result.code()).as(result.both()).isZero();
      assertThat(result.out()).matches("(?s)Wrote [\\d,]+ types and [\\d,]+ roots\\.\\s*");
    }
    long rows = Files.readString(folder.resolve("types.jsonl")).lines().count();
    assertThat(Files.readAllLines(folder.resolve("types.csv"))).hasSizeGreaterThan((int) rows);
    Tool.Result small =
        Tool.run(
            folder,
            Map.of("LIPSANON_WITHOUT_ENGINE", "1"),
            "export",
            dump,
            "--objects",
            "small.parquet");
    assertThat(small.code()).as(small.both()).isZero();
    assertThat(small.err()).isEmpty();
    byte[] bytes = Files.readAllBytes(folder.resolve("small.parquet"));
    assertThat(new String(bytes, 0, 4, java.nio.charset.StandardCharsets.US_ASCII))
        .isEqualTo("PAR1");
  }
}
