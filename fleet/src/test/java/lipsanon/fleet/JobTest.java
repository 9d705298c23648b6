package lipsanon.fleet;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.List;
import org.junit.jupiter.api.Test;

/** What passes between a task's process and who started it. */
class JobTest {
  private static final Item ITEM =
      new Item(
          "/dumps/\"odd\"\n\u001b[31m/é.hprof",
          new Labels("office", "", "quay", Instant.parse("2026-11-20T10:00:00.123Z")),
          -1);

  @Test
  void aJobIsReadAsItWasWritten() throws Exception {
    Job job = new Job(ITEM, "/tmp/a b", "/tmp/s", 1L << 40, new byte[] {1, -2}, List.of("a", "b"));
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    job.write(out);
    Job read = Job.read(new ByteArrayInputStream(out.toByteArray()));
    assertThat(read.item()).isEqualTo(ITEM);
    assertThat(read.file()).isEqualTo("/tmp/a b");
    assertThat(read.scratch()).isEqualTo("/tmp/s");
    assertThat(read.memoryBytes()).isEqualTo(1L << 40);
    assertThat(read.hidingKey()).containsExactly(1, -2);
    assertThat(read.mine()).containsExactly("a", "b");
  }

  @Test
  void aRowIsALineWhateverIsInIt() throws Exception {
    String rows =
        new String(
            ChildTask.failed(ITEM, "two\nlines \u2028 \"and\" a \\"), StandardCharsets.UTF_8);
    assertThat(rows.strip().split("\n")).hasSize(1);
    assertThat(rows)
        .startsWith("{\"table\":\"snapshots\",\"task\":\"" + ITEM.key() + "\"")
        .contains("\"taken\":\"2026-11-20 10:00:00.123\",\"day\":\"2026-11-20\"")
        .contains("\"status\":\"failed\"")
        .doesNotContain("\u001b");
  }

  @Test
  void aRowHasTheColumnsOfItsTable() throws Exception {
    try (Rows rows = new Rows(new ByteArrayOutputStream(), ITEM)) {
      assertThatThrownBy(() -> rows.row(FleetSchema.KEEPERS, "0x1", "a.B"))
          .isInstanceOf(IllegalArgumentException.class);
      rows.row(FleetSchema.KEEPERS, "0x1", "a.B", "static a.C.D", 10L);
    }
    assertThat(FleetSchema.KEEPERS.names())
        .containsExactly(
            "task",
            "file",
            "service",
            "build",
            "host",
            "taken",
            "day",
            "id",
            "type",
            "held_by",
            "retained_bytes");
    assertThat(FleetSchema.KEEPERS.table()).isEqualTo("keepers");
  }

  /** What is written is read by later versions: columns are only ever added. */
  @Test
  void theTablesOfVersionOneStayAsTheyAre() {
    assertThat(FleetSchema.VERSION).isEqualTo(1);
    assertThat(FleetSchema.HOLDERS.columns())
        .endsWith(
            "what VARCHAR, held_by VARCHAR, inside VARCHAR, own BOOLEAN, count BIGINT, bytes BIGINT,"
                + " frees_bytes BIGINT, example VARCHAR");
    assertThat(FleetSchema.TYPES.columns())
        .endsWith(
            "type VARCHAR, own BOOLEAN, count BIGINT, shallow_bytes BIGINT, retained_bytes BIGINT");
  }
}
