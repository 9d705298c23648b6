package lipsanon.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import lipsanon.capture.CaptureOptions;
import lipsanon.capture.CaptureProgress;
import lipsanon.capture.dotnet.DotnetCapture;
import lipsanon.holder.Finding;
import lipsanon.index.Snapshot;
import lipsanon.io.Progress;
import lipsanon.label.TypeFilter;
import lipsanon.question.SurveyQuestion;
import lipsanon.snapshot.Snapshots;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/**
 * One snapshot of a running .NET program that leaks, as an event stream and as a dump: the first
 * finding says what piles up, how many, and what holds it.
 */
class DotnetSurveyTest {
  @TempDir Path folder;

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "ThreadLocals | 3000 | 3,000 Yard.ThreadLocals.Sketch | 3,000 Sketch"
            + " | held by static variable Yard.ThreadLocals.Sketches"
            + " | held by static variable Sketches",
        "Flow | 3000 | 3,000 Yard.Flow.Leg | 3,000 Leg | held by static variable Yard.Flow.Voyage"
            + " | held by a field of OneElementAsyncLocalValueMap",
        "Contexts | 25 | Yard.Contexts.Chart is loaded 25 times, by contexts that can be unloaded"
            + " | Chart is loaded 25 times, by contexts that can be unloaded"
            + " | held by static variable Yard.Contexts.Charts: until they are let go"
            + " | held by static variable Charts: until they are let go",
        "Copies | 25 | Yard.Contexts.Chart is loaded 25 times, without a context"
            + " | Chart is loaded 25 times, without a context"
            + " | held by static variable Yard.Contexts.Charts; loaded"
            + " | held by static variable Charts; loaded",
        "OfAnyType | 3000 | 3,000 Yard.OfAnyType.Parcel | 3,000 Parcel"
            + " | held by static variable Yard.OfAnyType.Hold<Yard.OfAnyType.Parcel>.Stowed"
            + " | held by a static variable (System.Collections.Generic.List<Yard.OfAnyType.Parcel>)",
        "SmallLists | 8000 | 2,000 System.Collections.Generic.List<Yard.SmallLists.Parcel> with 8,000"
            + " Yard.SmallLists.Parcel retain | with 8,000 Parcel retain"
            + " | held by Yard.SmallLists.byQuay | held by a field of Yard.SmallLists",
        "PinnedBuffers | 3000 | 3,000 System.Byte[] | 3,000 System.Byte[]"
            + " | each held by a root of its own (pinning handle)"
            + " | each held by a root of its own (pinning handle)",
        "Handles | 3000 | 3,000 Yard.Handles.Buoy | 3,000 Buoy"
            + " | each held by a root of its own (handle) | each held by a root of its own (handle)",
        // with a few of the runtime's own; what lies in small tables is not counted
        "InternedTexts | 60000 | 51,9 | 51,9"
            + " | held by static variables and interned texts"
            + " | held by static variables and interned texts",
        // more links than a way is followed
        "TimerCallbacks | 22000"
            + " | 22,000 System.Threading.TimerQueueTimer, with 22,000 Yard.TimerCallbacks.Reminder"
            + " | 22,000 System.Threading.TimerQueueTimer, with 22,000 Reminder"
            + " | begins at the timers of .NET | begins at the timers of .NET",
        "Linked | 4000 | 4,000 Yard.Linked.Berth retain | 4,000 Berth retain"
            + " | held by Microsoft.Merrow.Lifetime.stopping"
            + " | held by a field of Microsoft.Merrow.Lifetime (System.Threading.Cancellation",
        "Registrations | 6000 | with 6,000 Yard.Registrations.Berth | with 6,000 Berth"
            + " | begins at static variable Yard.Registrations.closing"
            + " | begins at static variable closing"
      })
  void theFirstFindingNamesWhatHolds(
      String program,
      int actions,
      String inDump,
      String inStream,
      String heldInDump,
      String heldInStream)
      throws Exception {
    Path stream = folder.resolve("a.nettrace");
    Path named = folder.resolve("named.nettrace");
    Path dump = folder.resolve("a.core");
    try (DotnetYard yard = new DotnetYard(DotnetYard.yard(), program, "DOTNET_PROCESSOR_COUNT=1")) {
      yard.say("act " + actions);
      try (DotnetCapture capture = DotnetCapture.connect(yard.process.pid())) {
        capture.check(Snapshots::missing);
        capture.capture(new CaptureOptions(stream, false, false, false), CaptureProgress.NONE);
      }
      // the same with the names that a capture looks up
      assertThat(Tool.run(folder, "capture", yard.pid(), "-o", named.toString()).code()).isZero();
      try (DotnetCapture capture = DotnetCapture.connect(yard.process.pid())) {
        capture.check(Snapshots::missing);
        capture.dump(new CaptureOptions(dump, false, false, false), CaptureProgress.NONE);
      }
    }
    assertThat(first(stream).sentence()).contains(inStream).contains(heldInStream);
    assertThat(first(named).sentence()).contains(inDump).contains(heldInDump);
    assertThat(first(dump).sentence()).contains(inDump).contains(heldInDump);
  }

  private Finding first(Path file) throws Exception {
    Snapshots.Options options = new Snapshots.Options(null, folder, true, 1L << 30);
    try (Snapshot snapshot = Snapshots.open(file, options, Progress.NONE)) {
      return SurveyQuestion.ask(snapshot, TypeFilter.ALL, 10).findings().get(0);
    }
  }
}
