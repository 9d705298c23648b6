package lipsanon.change;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import lipsanon.holder.Finding;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** Small live Node.js programs with a known culprit, or with none. */
class NodeGrowthTest {
  private static final int TIMES = 7;
  private static final int ROUNDS = 3;

  @TempDir Path folder;

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "listeners|variable `tideBoard._events.tide` at the top level of listeners.js"
            + "|v8:closure onTide (listeners.js:11)",
        "closureInModule|variable `pending` at the top level of closureInModule.js"
            + "|v8:closure (anonymous) (closureInModule.js:8)",
        "mapByObject|variable `occupied` at the top level of mapByObject.js|Occupancy",
        "timers|the timers of Node.js|Timeout of ring (timers.js:14)",
        "promises|variable `waiting` at the top level of promises.js"
            + "|v8:closure that settles a promise awaited by pilotComes (promises.js:14)",
        "memo|variable `answers` at the top level of memo.js|Object",
        "arrayInClosure|variable `entries` in a scope of arrayInClosure.js near line 12|Entry",
        "asyncChain|variable `current` at the top level of asyncChain.js|Object",
        "staticRegistry|static Vessel.all|Vessel",
        "globalCache|variable `harbourCharts` in the global scope|v8:string",
        "nested|variable `office.desk.inbox.letters` at the top level of nested.js|Object",
        "promiseChain|variable `first` at the top level of promiseChain.js|Promise",
        "exported|variable `calls` at the top level of exportedCalls.mjs|Call",
        "sharedGate|variable `gate` at the top level of sharedGate.js"
            + "|v8:closure that resumes unload (sharedGate.js:6)",
        "byPort|variable `forecasts` at the top level of byPort.js|Object {text, hours}",
        "importedRules|the modules that Node.js has imported|Object",
        "reloadedRules|variable `rules` at the top level of reloadedRules.js and"
            + " variable `module.children` at the top level of reloadedRules.js|Object {length}",
        "ownRealms|variable `realms` at the top level of ownRealms.js|Object"
      })
  void namesTheHolder(String program, String holder, String what) throws Exception {
    GrowthAnswer answer = grow(program);
    assertThat(answer.verdict()).as(answer.toString()).isEqualTo("growth");
    Finding first = answer.findings().get(0);
    assertThat(first.heldBy()).as(answer.toString()).isEqualTo(holder);
    assertThat(first.what()).as(answer.toString()).startsWith(what);
    assertThat(first.confidence()).isGreaterThan(0.6);
    assertThat(first.steps()).isNotEmpty();
  }

  /** Each of two lists that have the same things holds all of them. */
  @Test
  void ofTwoHoldersEachAloneFreesNothing() throws Exception {
    Finding first = grow("reloadedRules").findings().get(0);
    assertThat(first.sentence()).endsWith(": all of these must let go.");
    assertThat(first.holders()).hasSize(2).allMatch(holder -> holder.freesCount() == 0);
    assertThat(first.freedShare()).isGreaterThan(0.95);
  }

  /** Nobody has a list of them. */
  @Test
  void whatIsOpenHasRootsOfItsOwn() throws Exception {
    Finding first = grow("unansweredCalls").findings().get(0);
    assertThat(first.what()).isEqualTo("Socket");
    assertThat(first.heldBy()).isEqualTo("roots of their own: HTTPParser and TCP (Global handles)");
    assertThat(first.steps().get(0).via()).isEqualTo("Global handles");
  }

  /** An open handle says what it belongs to, and what of the program's is called. */
  @Test
  void anOpenServerIsToldByWhatItCalls() throws Exception {
    Finding first = grow("openServers").findings().get(0);
    assertThat(first.what()).isEqualTo("TCP of Server, which calls (anonymous) (openServers.js:8)");
    assertThat(first.counts()).containsExactly(7L, 14L, 21L, 28L);
    assertThat(first.sentence()).endsWith(": each is a root itself, Global handles.");
  }

  /** Nodes that stand in arrays of others are as many as there are. */
  @Test
  void allNodesOfATreeAreCounted() throws Exception {
    Finding first = grow("boughs").findings().get(0);
    assertThat(first.what()).isEqualTo("Bough");
    assertThat(first.counts()).containsExactly(71L, 141L, 211L, 281L);
    assertThat(first.heldBy()).isEqualTo("variable `place` at the top level of boughs.js");
  }

  /** The program's own variable refers to the runtime's modules, but holds nothing in them. */
  @Test
  void namesTheRuntimesOwnVariable() throws Exception {
    Finding first = grow("tideMarks").findings().get(0);
    assertThat(first.what()).isEqualTo("PerformanceMark");
    assertThat(first.heldBy())
        .isEqualTo("variable `markEntryBuffer` at the top level of node:internal/perf/observe");
    assertThat(first.freedShare()).isEqualTo(1);
  }

  @ParameterizedTest
  @ValueSource(strings = {"healthyChurn", "healthyBounded", "healthyWeak"})
  void findsNothingInHealthyPrograms(String program) throws Exception {
    GrowthAnswer answer = grow(program);
    assertThat(answer.findings()).as(answer.toString()).isEmpty();
    assertThat(answer.verdict()).isEqualTo("none");
  }

  private GrowthAnswer grow(String program) throws Exception {
    try (NodeYard node = new NodeYard(program)) {
      return node.grow(folder, TIMES, ROUNDS);
    }
  }
}
