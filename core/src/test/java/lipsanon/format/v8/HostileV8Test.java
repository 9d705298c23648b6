package lipsanon.format.v8;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import lipsanon.index.Snapshot;
import lipsanon.io.InputException;
import lipsanon.io.Progress;
import lipsanon.snapshot.Snapshots;
import org.junit.jupiter.api.Assertions;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** V8 snapshots that were made to do harm. */
class HostileV8Test {
  @TempDir Path folder;

  private Snapshot open(byte[] bytes) throws Exception {
    Path file = Files.createTempFile(folder, "h", ".heapsnapshot");
    Files.write(file, bytes);
    return Snapshots.open(
        file, new Snapshots.Options(null, folder, false, 1L << 30), Progress.NONE);
  }

  private static V8Builder quay(String type, long id) {
    V8Builder b = new V8Builder();
    int root = b.node("synthetic", "", 1, 0);
    int one = b.node("object", type, 3, 16);
    int two = b.node("object", "Berth", id, 16);
    return b.edge(root, "element", 1, one).edge(one, "property", "next", two);
  }

  @Test
  void aNameWithoutEndIsCut() {
    String name = "Quay @".repeat(1_700_000);
    Assertions.assertTimeoutPreemptively(
        Duration.ofSeconds(20),
        () -> {
          try (Snapshot s = open(quay(name, 5).bytes())) {
            assertThat(s.typeName(s.nodeOf("@3"))).hasSizeLessThan(1200).startsWith("Quay @");
          }
        });
  }

  @Test
  void repeatedIdentifiersAreToldOf() throws Exception {
    try (Snapshot s = open(quay("Quay", 3).bytes())) {
      assertThat(s.facts().warnings()).anyMatch(w -> w.contains("repeat the identifier"));
    }
    try (Snapshot s = open(quay("Quay", 5).bytes())) {
      assertThat(s.facts().warnings()).isEmpty();
    }
  }

  @Test
  void textBehindTheEndIsNoSnapshot() throws Exception {
    String sound = new String(quay("Quay", 5).bytes(), StandardCharsets.UTF_8);
    open((sound + "\n\n").getBytes(StandardCharsets.UTF_8)).close();
    for (String more : new String[] {"{}", "x", "]", "1"}) {
      assertThatThrownBy(() -> open((sound + more).getBytes(StandardCharsets.UTF_8)))
          .as(more)
          .isInstanceOf(InputException.class);
    }
  }

  @Test
  void stringTablesHoldWeakly() throws Exception {
    V8Builder b = new V8Builder();
    int root = b.node("synthetic", "", 1, 0);
    int table = b.node("synthetic", "(Internalized strings)", 7, 0);
    int held = b.node("string", "held", 9, 16);
    int loose = b.node("string", "loose", 11, 16);
    int object = b.node("object", "Quay", 3, 16);
    b.edge(root, "element", 1, table).edge(root, "element", 2, object);
    b.edge(table, "internal", "1", held).edge(table, "internal", "2", loose);
    b.edge(object, "property", "name", held);
    try (Snapshot s = open(b.bytes())) {
      assertThat(s.retainedBytes(s.nodeOf("@3"))).isEqualTo(32);
      assertThat(s.depth(s.nodeOf("@11"))).isZero();
    }
  }
}
