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
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** One snapshot of a Node.js program that leaks: what the first finding says. */
class NodeSurveyTest {
  @TempDir Path folder;

  private Finding first(String program, int actions) throws Exception {
    List<Finding> findings = findings(program, actions);
    assertThat(findings).as(program).isNotEmpty();
    return findings.get(0);
  }

  private List<Finding> findings(String program, int actions) throws Exception {
    Path file = folder.resolve(program + ".heapsnapshot");
    try (NodeYard node = new NodeYard(program)) {
      node.say("act " + actions);
      node.say("dump " + file);
    }
    Snapshots.Options options = new Snapshots.Options(null, folder, false, 1L << 30);
    try (Snapshot snapshot = Snapshots.open(file, options, Progress.NONE)) {
      return SurveyQuestion.ask(snapshot, TypeFilter.ALL, 10).findings();
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

  /** What a scope has by its own variables is as much as its source says, and piles nothing up. */
  @Test
  void theFunctionsOfOneWideScopeAreNoPile() throws Exception {
    assertThat(findings("wideScope", 2)).noneMatch(f -> f.what().startsWith("v8:closure"));
  }

  /** Tables of a few names below one object, and a tree whose nodes hang on the first. */
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "byPort|800|Object {text, hours}|4800|variable `forecasts` at the top level of byPort.js",
        "boughs|900|Bough|9001|variable `place` at the top level of boughs.js"
      })
  void whatNoSingleObjectHoldsIsOnePile(
      String program, int actions, String what, long count, String holder) throws Exception {
    Finding first = first(program, actions);
    assertThat(first.what()).isEqualTo(what);
    assertThat(first.heldBy()).isEqualTo(holder);
    assertThat(first.counts()).containsExactly(count);
  }

  /** Neither variable alone, nor the function that has both in its scope. */
  @Test
  void whatTwoVariablesHoldIsToldByBoth() throws Exception {
    Finding first = first("twoTables", 9000);
    assertThat(first.what()).isEqualTo("Ship");
    assertThat(first.heldBy())
        .contains("variable `byNumber` at the top level of twoTables.js")
        .contains("variable `byName` at the top level of twoTables.js");
  }

  @Test
  void whoWaitsForOnePromiseIsNamed() throws Exception {
    Finding first = first("sharedGate", 6000);
    assertThat(first.sentence())
        .containsPattern("^A chain of 6,00[01] v8:hidden system / PromiseReaction, ")
        .contains("with 6,000 Generator of unload (sharedGate.js:6)");
    assertThat(first.heldBy()).isEqualTo("variable `gate` at the top level of sharedGate.js");
  }

  /**
   * Links of three types in turn: a board, its function, and the scope that keeps the one before.
   */
  @Test
  void aChainOfSeveralTypesInTurnIsTold() throws Exception {
    Finding first = first("replacedBoards", 4000);
    assertThat(first.what()).isEqualTo("TideBoard");
    assertThat(first.sentence())
        .startsWith("A chain of 4,000 TideBoard, ")
        .contains("through variable `before` in the scope of `replace` (replacedBoards.js:13)");
    assertThat(first.heldBy()).isEqualTo("variable `board` at the top level of replacedBoards.js");
  }
}
