package lipsanon.question;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.util.List;
import lipsanon.change.YardJvm;
import lipsanon.holder.Finding;
import lipsanon.index.Snapshot;
import lipsanon.io.Progress;
import lipsanon.label.TypeFilter;
import lipsanon.snapshot.Snapshots;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/**
 * One snapshot of a running program that leaks: the first finding says what piles up, how many, and
 * what holds it.
 */
class SurveyHoldersTest {
  @TempDir Path folder;

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '"',
      value = {
        "ScheduledTasks | 6000 | leakyard.ScheduledTasks$Reminder | 6000"
            + " | static leakyard.ScheduledTasks.REMINDERS",
        "ManySmallLists | 9000 | leakyard.ManySmallLists$Entry | 9000"
            + " | leakyard.ManySmallLists$Office.log",
        "LinkedLedger | 1500 | leakyard.LinkedLedger$Line | 12000"
            + " | leakyard.LinkedLedger$Ledger.last",
        "WrappedValues | 8000 | leakyard.WrappedValues$Tide | 8000"
            + " | static leakyard.WrappedValues.TIDES",
        "ThreadsOwnMap | 9000 | leakyard.ThreadsOwnMap$Gust | 9000"
            + " | local variable in leakyard.ThreadsOwnMap.write",
        "ValueHoldsKey | 4000 | leakyard.ValueHoldsKey$Papers | 4000"
            + " | leakyard.ValueHoldsKey.papers",
        "CancelledTimers | 4000 | leakyard.CancelledTimers$Reminder | 4000"
            + " | static leakyard.CancelledTimers.TIMER",
        "Listener | 3000 | leakyard.Listener$Watch | 6000 | leakyard.Listener$Beacon.watchers",
        "Interned | 800 | java.lang.String | 20000 | static leakyard.Interned.NAMES",
        "DeletedOnExit | 15000 | java.lang.String | 15000"
            + " | static java.io.DeleteOnExitHook.files",
        "KeptLoggers | 6000 | java.util.logging.Logger | 6000"
            + " | static leakyard.KeptLoggers.LOGGERS",
        "PlatformBeans | 4000 | leakyard.PlatformBeans$Buoy | 4000"
            + " | static java.lang.management.ManagementFactory.platformMBeanServer",
        "GrownBuffer | 60000 | byte[] | 1 | leakyard.GrownBuffer$Log.text",
        "ThreadPerAction | 150 | leakyard.ThreadPerAction$Watch | 150"
            + " | running threads in leakyard.ThreadPerAction$Watch.run",
        "LinkedLedger | 375 | leakyard.LinkedLedger$Line | 3000"
            + " | leakyard.LinkedLedger$Ledger.last",
        "TailChain | 3000 | leakyard.TailChain$Entry | 12000 | leakyard.TailChain$Journal.first"
      })
  void theFirstFindingNamesWhatHolds(
      String program, int actions, String what, long count, String holder) throws Exception {
    Finding first = first(program, actions);
    assertThat(first.heldBy()).as(first.toString()).startsWith(holder);
    // the next task of a timer is its thread's as well, and the last link of a chain its tail's
    assertThat(first.what()).as(first.sentence()).isEqualTo(what);
    assertThat(first.counts()).as(first.sentence()).containsExactly(count);
    String number = count == 1 ? "One" : String.format("%,d", count);
    assertThat(first.sentence()).contains(number).contains(holder);
  }

  /** Nothing of the program's own is in these threads: they are told by their names. */
  @Test
  void threadsOfOnePoolAreToldTogether() throws Exception {
    Finding first = first("PooledBuffers", 1);
    assertThat(first.sentence()).startsWith("60 threads called \"pump-#\" keep ");
    assertThat(first.what()).isEqualTo("java.lang.Thread");
    assertThat(first.counts()).containsExactly(60L);
    assertThat(first.bytes().get(0)).isBetween(60L * 60_000, 60L * 64_000);
    assertThat(first.heldBy()).isEqualTo("running threads called \"pump-#\"");
  }

  /** What a runtime brings along is nothing to look into, however small the heap. */
  @Test
  void aProgramThatKeepsNothingHasNoFinding() throws Exception {
    assertThat(findings("Churn", 200)).isEmpty();
  }

  /** What waits is not held by anybody's field: the thread that should let go is told. */
  @ParameterizedTest
  @CsvSource("StuckFinalizer, 7000")
  void aStuckFinalizerIsNamedWithItsLine(String program, int actions) throws Exception {
    Finding first = first(program, actions);
    assertThat(first.what()).isEqualTo("leakyard.StuckFinalizer$Lease");
    assertThat(first.counts().get(0)).isBetween((long) actions - 2, (long) actions);
    assertThat(first.sentence())
        .contains("only wait for their finalizers")
        .contains("leakyard.StuckFinalizer$Lease.finalize (StuckFinalizer.java:");
  }

  private Finding first(String program, int actions) throws Exception {
    List<Finding> findings = findings(program, actions);
    assertThat(findings).as(program).isNotEmpty();
    return findings.get(0);
  }

  private List<Finding> findings(String program, int actions) throws Exception {
    Path file = folder.resolve(program + ".hprof");
    try (YardJvm jvm = new YardJvm(program)) {
      jvm.act(actions);
      jvm.dump(file);
    }
    Snapshots.Options options = new Snapshots.Options(null, folder, false, 1L << 30);
    try (Snapshot snapshot = Snapshots.open(file, options, Progress.NONE)) {
      TypeFilter mine = new TypeFilter(null, List.of("leakyard"), false);
      return SurveyQuestion.ask(snapshot, mine, 10).findings();
    }
  }
}
