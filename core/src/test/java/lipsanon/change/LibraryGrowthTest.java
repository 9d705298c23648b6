package lipsanon.change;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import lipsanon.holder.Finding;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;
import lipsanon.io.Progress;
import lipsanon.label.Families;
import lipsanon.label.TypeFilter;
import lipsanon.snapshot.Snapshots;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.TestInstance;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/**
 * Live programs that misuse real libraries. Each proves its own truth: once the holder that is
 * named is emptied in the running program, what piled up is gone.
 */
@TestInstance(TestInstance.Lifecycle.PER_CLASS)
class LibraryGrowthTest {
  private static final int TIMES = 5;
  private static final int ROUNDS = 3;
  private static final int WARM_UP = 2;
  private static final int LONG = 3 * TIMES * (ROUNDS + WARM_UP);

  /**
   * What is in the first row of a table, in an entry that shares its place, or in the last piece of
   * a queue, counts as the rest.
   */
  private static final Set<String> IN_ALL_PARTS = Set.of("Rates", "Flags", "Berthing", "Backlog");

  @TempDir Path folder;

  /** How sure each finding was, and whether it was right. */
  private final Sureness sureness = new Sureness();

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "Bus | leakyard.library.Bus$Office.tides | leakyard.library.Bus$Pilot",
        "Manifests | leakyard.library.Manifests$Desk.byQuay | leakyard.library.Manifests$Manifest",
        "Forecasts | leakyard.library.Forecasts$Service.known | leakyard.library.Forecasts$Forecast",
        "Wheel | leakyard.library.Wheel$Guard.timer | leakyard.library.Wheel$Call",
        "Subject | leakyard.library.Subject$Board.heights | leakyard.library.Subject",
        "Loggers | logback | ch.qos.logback.classic.Logger",
        "Codes | leakyard.library.Codes$Registry.berths | leakyard.library.Codes$Berth",
        "Context | leakyard.library.Context$Server.beans | leakyard.library.Context$Watchman",
        "Meters | leakyard.library.Meters$Monitor.meters | io.micrometer",
        "Launches | leakyard.library.Launches$Pier.launches | leakyard.library.Launches$Launch",
        "Sessions | leakyard.library.Sessions$Office.archive | ",
        "Orders | leakyard.library.Orders$Counter.orders | leakyard.library.Orders$$Lambda",
        "Positions | leakyard.library.Positions$Radar.tracks | leakyard.library.Positions$Track",
        "Ledger | leakyard.library.Ledger$Book.pages | leakyard.library.Ledger$Entry",
        "Scripts | leakyard.library.Scripts$Rules. | Script",
        "Tariffs | static leakyard.library.Tariffs.shell | class Script…",
        "Gate | leakyard.library.Gate$Lock.opened | leakyard.library.Gate$$Lambda",
        "Marks | static java.io.DeleteOnExitHook.files | java.lang.String",
        "Diary | ch.qos.logback.classic.util.LogbackMDCAdapter.readWriteThreadLocalMap | java.lang.String",
        "Watches | running threads in leakyard.library.Watches$Watch.run | leakyard.library.Watches",
        "Reloads | static leakyard.library.Reloads.HOOKS | leakyard.library.Reloads$Plugin",
        "Pier | variable `merrow.pier/calls` | merrow.pier.Call",
        "Beans | org.springframework.cache.concurrent.ConcurrentMapCache.store, kept by static"
            + " leakyard.library.Beans.APPLICATION | leakyard.library.Beans$Fee",
        "Bags | leakyard.library.Bags$Store.barrels | leakyard.library.Bags$Barrel",
        "Made | leakyard.library.Made$Foundry.moulds | class leakyard.library.Mould…",
        "Berthing | leakyard.library.Berthing$Pilots.waiting | leakyard.library.Berthing$Request",
        "Backlog | leakyard.library.Backlog$Mast.signals | leakyard.library.Backlog$Signal",
        "Labels | leakyard.library.Labels$Index.byCall | io.micrometer.core.instrument.ImmutableTag",
        "Flags | leakyard.library.Flags$Locker.known | leakyard.library.Flags$Flag",
        "Rates | leakyard.library.Rates$Tariff.byQuay | leakyard.library.Rates$Rate"
      })
  void namesTheHolder(String program, String holder, String what) throws Exception {
    try (YardJvm jvm = new YardJvm("library." + program)) {
      GrowthAnswer answer = grow(jvm);
      assertThat(answer.findings()).as(answer.toString()).isNotEmpty();
      Finding first = answer.findings().get(0);
      boolean right = first.heldBy().contains(holder);
      sureness.add(program, first, right);
      assertThat(first.heldBy()).as(answer.toString()).contains(holder);
      assertThat(first.what()).as(answer.toString()).contains(what == null ? "" : what);
      assertThat(first.freedShare()).isGreaterThan(0.9);
      if (IN_ALL_PARTS.contains(program)) {
        assertThat(first.countPerAction()).as(first.sentence()).isEqualTo(3);
        assertThat(first.sentence()).contains("exactly 3 with every action");
      }
      // of texts there are many others, and a class is none of a type
      if (!first.what().equals("java.lang.String") && !first.what().startsWith("class ")) {
        released(jvm, first);
      }
    }
  }

  /** The program empties the holder, and what piled up goes. */
  private void released(YardJvm jvm, Finding finding) throws Exception {
    long before = count(folder.resolve(ROUNDS + 1 + ".hprof"), finding.what());
    jvm.release();
    Path after = folder.resolve("after.hprof");
    long left = before;
    // what has a finalizer goes only with a later collection
    for (int i = 0; i < 10 && left >= before / 4 + 2; i++) {
      jvm.dump(after);
      left = count(after, finding.what());
      Files.delete(after);
    }
    assertThat(left).as(finding.what()).isLessThan(before / 4 + 2);
  }

  private long count(Path file, String family) throws Exception {
    long count = 0;
    try (Snapshot snapshot = open(file)) {
      for (int t = 0; t < snapshot.types().size(); t++) {
        TypeInfo type = snapshot.types().get(t);
        count += Families.of(type.name()).equals(family) ? snapshot.counts(t).count() : 0;
      }
    }
    return count;
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "BoundedForecasts",
        "LatestCalls",
        "Turnover",
        "Swing",
        "Lazy",
        "Churned",
        "Formulas"
      })
  void findsNothingInHealthyPrograms(String program) throws Exception {
    try (YardJvm jvm = new YardJvm("library." + program)) {
      GrowthAnswer answer = grow(jvm);
      answer.findings().forEach(finding -> sureness.add(program, finding, false));
      assertThat(answer.findings()).as(answer.toString()).isEmpty();
    }
  }

  /** Of what is said to be sure nearly all must be right. */
  @AfterAll
  void suretyMeansSomething() {
    sureness.check();
  }

  private Snapshot open(Path file) throws Exception {
    return Snapshots.open(file, new Snapshots.Options(null, folder, true, 1L << 30), Progress.NONE);
  }

  private GrowthAnswer grow(YardJvm jvm) throws Exception {
    List<Snapshot> series = new ArrayList<>();
    try {
      jvm.act(WARM_UP * TIMES);
      for (int round = 0; round <= ROUNDS + 1; round++) {
        jvm.act(round == 0 ? 0 : round <= ROUNDS ? TIMES : LONG);
        Path file = folder.resolve(round + ".hprof");
        jvm.dump(file);
        series.add(open(file));
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
