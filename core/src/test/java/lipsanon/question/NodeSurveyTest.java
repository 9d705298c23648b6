package lipsanon.question;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.util.List;
import lipsanon.change.NodeYard;
import lipsanon.holder.Finding;
import lipsanon.index.Snapshot;
import lipsanon.io.Progress;
import lipsanon.label.TypeFilter;
import lipsanon.snapshot.Snapshots;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** One snapshot of a Node.js program that leaks: what the first finding says. */
class NodeSurveyTest {
  @TempDir Path folder;

  private Finding first(String program, int actions) throws Exception {
    Path file = folder.resolve(program + ".heapsnapshot");
    try (NodeYard node = new NodeYard(program)) {
      node.say("act " + actions);
      node.say("dump " + file);
    }
    Snapshots.Options options = new Snapshots.Options(null, folder, false, 1L << 30);
    try (Snapshot snapshot = Snapshots.open(file, options, Progress.NONE)) {
      List<Finding> findings = SurveyQuestion.ask(snapshot, TypeFilter.ALL, 10).findings();
      assertThat(findings).as(program).isNotEmpty();
      return findings.get(0);
    }
  }

  /** Timers that no list has many of are a library's objects, spread over many places. */
  @Test
  void timersWithDelaysOfTheirOwnAreOnePile() throws Exception {
    Finding first = first("ownDelays", 20_000);
    assertThat(first.what()).startsWith("Timeout of ring (ownDelays.js:");
    assertThat(first.counts().get(0)).isBetween(20_000L, 20_010L);
    assertThat(first.heldBy()).startsWith("the timers of Node.js");
    assertThat(first.sentence()).contains(" together (");
  }

  @Test
  void listenersOfTheProcessAreHeldByTheProcess() throws Exception {
    Finding first = first("exitListeners", 20_000);
    assertThat(first.heldBy()).isEqualTo("process._events.exit");
    assertThat(first.what()).contains("exitListeners.js:");
    assertThat(first.counts()).containsExactly(20_000L);
  }

  /** One function's name is not the name of all. */
  @Test
  void functionsOfManyNamesAreNotCalledByOne() throws Exception {
    Finding first = first("madeFunctions", 6000);
    assertThat(first.counts()).containsExactly(6000L);
    assertThat(first.what()).isEqualTo("v8:closure");
    assertThat(first.heldBy()).isEqualTo("variable `made` at the top level of madeFunctions.js");
  }
}
