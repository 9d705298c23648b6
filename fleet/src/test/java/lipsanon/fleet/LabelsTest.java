package lipsanon.fleet;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** Whence snapshots are: by their paths, by manifests. */
class LabelsTest {
  private static final Labels PLAIN = new Labels("unnamed", "", "folder", Instant.EPOCH);

  @TempDir Path folder;

  @Test
  void labelsStandAtTheEndOfAPath() {
    LabelPattern pattern = new LabelPattern("{service}/*/{host}-{build}/{any}.hprof");
    assertThat(pattern.of("/dumps/office/x/quay-7-b12/heap.hprof", PLAIN))
        .isEqualTo(new Labels("office", "b12", "quay-7", Instant.EPOCH));
    assertThat(pattern.of("/dumps/office/heap.hprof", PLAIN)).isNull();
    assertThat(new LabelPattern("{host}.hprof").of("hdfs://store/a/quay.hprof", PLAIN))
        .isEqualTo(new Labels("unnamed", "", "quay", Instant.EPOCH));
    // signs of regular expressions are only signs
    assertThat(new LabelPattern("{host}(1)+.hprof").of("a/quay(1)+.hprof", PLAIN).host())
        .isEqualTo("quay");
  }

  @ParameterizedTest
  @ValueSource(strings = {"{vessel}.hprof", "{host}/{host}.hprof", "{}.hprof"})
  void aPatternWithOtherNamesIsRefused(String text) {
    assertThatThrownBy(() -> new LabelPattern(text))
        .isInstanceOf(IllegalArgumentException.class)
        .hasMessageContaining(text);
  }

  @ParameterizedTest
  @CsvSource({
    "2026-11-20T10:00:00Z, 2026-11-20T10:00:00Z",
    "2026-11-20T10:00:00, 2026-11-20T10:00:00Z",
    "2026-11-20 10:00:00, 2026-11-20T10:00:00Z",
    "2026-11-20T12:00:00+02:00, 2026-11-20T10:00:00Z",
    "20261120T100000, 2026-11-20T10:00:00Z",
    "20261120-100000, 2026-11-20T10:00:00Z",
    "20261120_100000, 2026-11-20T10:00:00Z",
    "2026-11-20, 2026-11-20T00:00:00Z",
    "1795168800, 2026-11-20T10:00:00Z",
    "1795168800000, 2026-11-20T10:00:00Z",
    "noon, "
  })
  void timesArePutDownInManyWays(String text, String expected) {
    assertThat(LabelPattern.parse(text))
        .isEqualTo(expected == null ? null : Instant.parse(expected));
  }

  @Test
  void aManifestSaysWhatPathsDoNot() throws Exception {
    Path dump = TinyFleet.dump(folder.resolve("dumps/one.hprof"), 3, 3);
    Path manifest = folder.resolve("fleet.csv");
    Files.writeString(
        manifest,
        "file,service,build,host,time\n"
            + "dumps/one.hprof,office,b7,\"quay, east\",2026-11-20\n"
            + "dumps/two.hprof,,,,\n");
    Inputs inputs = new Inputs(null, false);
    inputs.add(manifest.toString());
    List<Item> items = inputs.items();
    assertThat(items).hasSize(2);
    assertThat(items.get(0).address()).isEqualTo(dump.toString());
    assertThat(items.get(0).labels())
        .isEqualTo(new Labels("office", "b7", "quay, east", Instant.parse("2026-11-20T00:00:00Z")));
    assertThat(items.get(0).bytes()).isEqualTo(Files.size(dump));
    assertThat(items.get(1).labels().service()).isEqualTo("unnamed");
    assertThat(items.get(1).labels().host()).isEqualTo("dumps");
    assertThat(items.get(1).bytes()).isEqualTo(-1);
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "path,host\na.hprof,b\n",
        "file,vessel\na.hprof,b\n",
        "file,time\na.hprof,noon\n",
        "file,host\n\"a.hprof,b\n"
      })
  void aManifestThatIsNoneIsToldInASentence(String text) throws Exception {
    Path manifest = folder.resolve("fleet.csv");
    Files.writeString(manifest, text);
    assertThatThrownBy(() -> new Inputs(null, false).add(manifest.toString()))
        .isInstanceOf(IllegalArgumentException.class)
        .hasMessageContaining("fleet.csv");
  }

  @Test
  void folderHaveSnapshotsAndMuchElse() throws Exception {
    Path dump = TinyFleet.dump(folder.resolve("dumps/a/one.hprof"), 3, 3);
    TinyFleet.dump(folder.resolve("dumps/a/one.hprof.lipsanon/meta"), 3, 3);
    Files.writeString(folder.resolve("dumps/notes.txt"), "none");
    Inputs inputs = new Inputs(null, false);
    inputs.add(folder.resolve("dumps").toString());
    inputs.add(dump.toString());
    assertThat(inputs.items()).hasSize(1);
    assertThatThrownBy(() -> inputs.add(folder.resolve("gone").toString()))
        .hasMessageContaining("there is no such file or folder");
    assertThatThrownBy(() -> inputs.add("s3a://harbour/one.hprof"))
        .hasMessageContaining("on a cluster only");
  }

  @Test
  void patternsAndListsStandForFiles() throws Exception {
    Path one = TinyFleet.dump(folder.resolve("dumps/a/one.hprof"), 3, 3);
    Path two = TinyFleet.dump(folder.resolve("dumps/b/two.hprof"), 3, 3);
    TinyFleet.dump(folder.resolve("dumps/b/deeper/three.hprof"), 3, 3);
    Inputs glob = new Inputs(null, false);
    glob.add(folder + "/dumps/*/*.hprof");
    assertThat(glob.items())
        .extracting(Item::address)
        .containsExactly(one.toString(), two.toString());
    Inputs deep = new Inputs(null, false);
    deep.add(folder + "/dumps/**.hprof");
    assertThat(deep.items()).hasSize(3);
    assertThatThrownBy(() -> deep.add(folder + "/dumps/*.heapsnapshot"))
        .hasMessageContaining("no file fits");
    Path list = folder.resolve("list.txt");
    Files.writeString(list, "dumps/a/one.hprof\n\n" + two + "\ndumps/b/deeper\n");
    Inputs listed = new Inputs(null, false);
    listed.add(list.toString());
    assertThat(listed.items()).hasSize(3);
    // a file whose name looks like a pattern is a file
    Path odd = TinyFleet.dump(folder.resolve("dumps/[odd].hprof"), 3, 3);
    Inputs literal = new Inputs(null, false);
    literal.add(odd.toString());
    assertThat(literal.items()).extracting(Item::address).containsExactly(odd.toString());
  }

  @Test
  void aKeyIsOfAddressTimeAndSize() {
    Item item = new Item("a", PLAIN, 1);
    assertThat(item.key()).hasSize(32).isEqualTo(new Item("a", PLAIN, 1).key());
    assertThat(item.key()).isNotEqualTo(new Item("b", PLAIN, 1).key());
    assertThat(item.key()).isNotEqualTo(new Item("a", PLAIN, 2).key());
    Labels later = new Labels("unnamed", "", "folder", Instant.EPOCH.plusSeconds(1));
    assertThat(item.key()).isNotEqualTo(new Item("a", later, 1).key());
  }

  @Test
  void aPlanIsReadAsItWasWritten() throws Exception {
    Plan plan =
        new Plan(
            "hdfs://store/tables",
            1 << 30,
            new byte[16],
            List.of("portmerrow", "harbour"),
            1000,
            List.of(new Item("a \"b\"\n", PLAIN, 3), new Item("é", PLAIN, -1)));
    Path file = folder.resolve("plan.jsonl");
    plan.write(file);
    Plan read = Plan.read(file);
    assertThat(read.items()).isEqualTo(plan.items());
    assertThat(read.mine()).isEqualTo(plan.mine());
    assertThat(read.hidingKey()).isEqualTo(plan.hidingKey());
    assertThat(read.tables()).isEqualTo(plan.tables());
  }
}
