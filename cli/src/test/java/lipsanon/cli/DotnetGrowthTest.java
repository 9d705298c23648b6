package lipsanon.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import lipsanon.capture.CaptureOptions;
import lipsanon.capture.CaptureProgress;
import lipsanon.capture.LiveRuntime;
import lipsanon.capture.RuntimeInfo;
import lipsanon.capture.Runtimes;
import lipsanon.capture.dotnet.DotnetCapture;
import lipsanon.change.GrowthAnswer;
import lipsanon.change.GrowthQuestion;
import lipsanon.cli.watch.Connections;
import lipsanon.holder.Finding;
import lipsanon.index.Snapshot;
import lipsanon.io.Progress;
import lipsanon.label.TypeFilter;
import lipsanon.snapshot.Snapshots;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** Small live .NET programs with a known culprit, which is emptied then, or with none. */
class DotnetGrowthTest {
  private static final int TIMES = 7;
  private static final int ROUNDS = 3;
  private static final int LONG = 3 * ROUNDS * TIMES;

  /** The runtime has a queue of timers for each: a thread that moves would fill several. */
  private static final String ONE_PROCESSOR = "DOTNET_PROCESSOR_COUNT=1";

  @TempDir Path folder;

  /** Whether captures look names up. */
  private boolean looksUp;

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "StaticList | static variable Lit | Yard.StaticList.Lantern, Lantern",
        "EventHandlers | Beacon (event or callback | Watch",
        "TimerCallbacks | the timers of .NET | Reminder",
        "Deadlines | the timers of .NET | Pilot",
        "Closures | static variable Hooks | Voyage",
        "WeakTable | weak table keeps for a Harbour | Papers",
        "ThreadStatics | thread | Note",
        "LargeObjects | static variable Charts | System.Byte[]",
        "BlockedFinalizer | finalizer | Crane",
        "NeverCompleted | static variable lockGate | Crossing, Pass",
        "Registrations | static variable closing | Berth",
        "ThreadLocals | static variable Sketches | Sketch",
        "PinnedBuffers | pinning handle | System.Byte[]",
        "Handles | handle | Buoy",
        "Chain | Journal (Entry) | Entry",
        "OwnCollection | Store | Crate",
        "OfAnyType | a static variable (System.Collections.Generic.List<Yard.OfAnyType.Parcel>)"
            + " | Parcel",
        "OwnTree | static variable stem | Branch"
      })
  void namesTheHolder(String program, String holder, String what) throws Exception {
    namesTheHolder(program, holder, what, false);
  }

  /** Fields by their names, as a capture looks them up: those of a library that nothing owns. */
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "Linked | Microsoft.Merrow.Lifetime.stopping | Yard.Linked.Berth",
        "Wired | ServiceProviderEngineScope._disposables | Yard.Wired.Lantern",
        "Lent | static variable Yard.Lent.Ledger | Yard.Lent.Parcel",
        "Watchmen | running threads in Yard.Watchmen.Walk | Yard.Watchmen.Round"
      })
  void namesTheFieldThatHolds(String program, String holder, String what) throws Exception {
    namesTheHolder(program, holder, what, true);
  }

  private void namesTheHolder(String program, String holder, String what, boolean named)
      throws Exception {
    looksUp = named;
    try (DotnetYard yard = new DotnetYard(DotnetYard.yard(), program, ONE_PROCESSOR)) {
      GrowthAnswer answer = grow(yard);
      assertThat(answer.findings()).as(answer.toString()).isNotEmpty();
      Finding first = answer.findings().get(0);
      System.out.println("  " + program + ": " + first.what() + " held by " + first.heldBy());
      assertThat(first.heldBy()).as(answer.toString()).contains(holder);
      assertThat(what.split(", "))
          .as(answer.toString())
          .anyMatch(one -> first.what().contains(one));
      // the program empties the holder, and what piled up goes
      long before = first.counts().get(first.counts().size() - 1);
      yard.say("release");
      long left = before;
      for (int i = 0; i < 4 && left >= before / 4 + 2; i++) {
        left = count(capture(yard, "after" + i), first.what());
      }
      assertThat(left).as(first.what()).isLessThan(before / 4 + 2);
    }
  }

  /** Some hang on the runtime's list of each processor, and another timer knows one of these. */
  @Test
  void timersOfSeveralProcessorsAreCountedTogether() throws Exception {
    try (DotnetYard yard =
        new DotnetYard(DotnetYard.yard(), "Rounds", "DOTNET_PROCESSOR_COUNT=2")) {
      Finding first = grow(yard).findings().get(0);
      assertThat(first.what()).contains("Watch");
      assertThat(first.heldBy()).isEqualTo("the timers of .NET");
      assertThat(first.sentence())
          .startsWith(3 * TIMES + LONG + " more ")
          .contains(", exactly 1 with every action)");
    }
  }

  @ParameterizedTest
  @ValueSource(strings = {"BoundedCache", "OnlyChurn", "WarmUp", "Swing"})
  void findsNothingInHealthyPrograms(String program) throws Exception {
    try (DotnetYard yard = new DotnetYard(DotnetYard.yard(), program, ONE_PROCESSOR)) {
      GrowthAnswer answer = grow(yard);
      assertThat(answer.findings()).as(answer.toString()).isEmpty();
    }
  }

  /** Nothing of the user's own has it, and no holder could let go. */
  @Test
  void assembliesThatAreLoadedEverMoreAreOneFinding() throws Exception {
    try (DotnetYard yard = new DotnetYard(DotnetYard.yard(), "LoadedAgain", ONE_PROCESSOR)) {
      GrowthAnswer answer = grow(yard);
      assertThat(answer.findings()).as(answer.toString()).hasSize(1);
      Finding first = answer.findings().get(0);
      assertThat(first.what()).contains("Assembly");
      assertThat(first.heldBy()).isEqualTo("the runtime, which unloads none");
      assertThat(first.sentence())
          .startsWith(3 * TIMES + LONG + " more assemblies are loaded (")
          .contains(", exactly 1 with every action)");
    }
  }

  private Path capture(DotnetYard yard, String name) throws Exception {
    Path file = folder.resolve(name + ".nettrace");
    if (looksUp) {
      RuntimeInfo info = Runtimes.find(yard.pid(), null, false);
      try (LiveRuntime live = Connections.to(info)) {
        live.capture(new CaptureOptions(file, false, false, false), CaptureProgress.NONE);
      }
      return file;
    }
    try (DotnetCapture capture = DotnetCapture.connect(yard.process.pid())) {
      capture.check(Snapshots::missing);
      capture.capture(new CaptureOptions(file, false, false, false), CaptureProgress.NONE);
    }
    return file;
  }

  private Snapshot open(Path file) throws Exception {
    return Snapshots.open(file, new Snapshots.Options(null, folder, true, 1L << 30), Progress.NONE);
  }

  private long count(Path file, String type) throws Exception {
    long count = 0;
    try (Snapshot snapshot = open(file)) {
      for (int n = 0; n < snapshot.objectCount(); n++) {
        boolean kept = snapshot.depth(n) > 0;
        count += kept && snapshot.typeName(n).equals(type) ? 1 : 0;
      }
    }
    Files.delete(file);
    return count;
  }

  private GrowthAnswer grow(DotnetYard yard) throws Exception {
    List<Snapshot> series = new ArrayList<>();
    try {
      yard.say("act " + 4 * TIMES);
      for (int round = 0; round <= ROUNDS + 1; round++) {
        int times = round == 0 ? 0 : round <= ROUNDS ? TIMES : LONG;
        yard.say("act " + times);
        series.add(open(capture(yard, Integer.toString(round))));
      }
      return GrowthQuestion.ask(
          series, new GrowthQuestion.Options(TypeFilter.ALL, List.of(TIMES, TIMES, TIMES, LONG)));
    } finally {
      for (Snapshot snapshot : series) {
        snapshot.close();
      }
    }
  }
}
