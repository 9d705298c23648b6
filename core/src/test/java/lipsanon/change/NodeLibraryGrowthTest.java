package lipsanon.change;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import lipsanon.holder.Finding;
import lipsanon.index.Snapshot;
import lipsanon.io.Progress;
import lipsanon.label.TypeFilter;
import lipsanon.snapshot.Snapshots;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.TestInstance;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** Live Node.js programs that misuse real packages. */
@TestInstance(TestInstance.Lifecycle.PER_CLASS)
class NodeLibraryGrowthTest {
  private static final int TIMES = 5;
  private static final int ROUNDS = 3;
  private static final int WARM_UP = 2;
  private static final int LONG = 3 * TIMES * (ROUNDS + WARM_UP);

  /** Packages that offer no way to empty what they hold. */
  private static final Set<String> CANNOT_RELEASE = Set.of("store", "watch", "pool");

  @TempDir Path folder;

  /** How sure each finding was, and whether it was right. */
  private final Sureness sureness = new Sureness();

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "bus | Harbour.tides | v8:closure (anonymous) (bus.js:7)",
        "stream | variable `heights` at the top level of stream.js | stream.js:7",
        "remember | variable `forecast` at the top level of remember.js | Object {heights}",
        "ttl | Archive.manifests | Manifest",
        "store | variable `store` at the top level of store.js | store.js:7",
        "watch | variable `tide` at the top level of watch.js | Reaction",
        "pool | Pier.launches | Launch",
        "routes | variable `app` at the top level of routes.js | Layer",
        "history | variable `past` at the top level of history.js | Record",
        "templates | variable `handlebars` at the top level of templates.js | v8:",
        "partials | HandlebarsEnvironment.partials, kept by variable `exports` at the top level of"
            + " handlebars.js of handlebars | v8:",
        "ledger | variable `exports.all` at the top level of pages.js | Page",
        "waiting | variable `waiting` at the top level of waiting.js | Promise"
      })
  void namesTheHolder(String program, String holder, String what) throws Exception {
    try (NodeYard yard = NodeYard.withPackages(program)) {
      GrowthAnswer answer = grow(yard);
      assertThat(answer.findings()).as(answer.toString()).isNotEmpty();
      Finding first = answer.findings().get(0);
      sureness.add(program, first, first.heldBy().equals(holder));
      assertThat(first.heldBy()).as(answer.toString()).isEqualTo(holder);
      assertThat(first.what()).as(answer.toString()).contains(what);
      assertThat(first.freedShare()).isGreaterThan(0.9);
      assertThat(first.confidence()).isGreaterThan(0.8);
      if (!CANNOT_RELEASE.contains(program)) {
        yard.say("release");
        Path after = folder.resolve("after.heapsnapshot");
        yard.say("dump " + after);
        String type = first.steps().get(first.steps().size() - 1).type();
        long gone = count(folder.resolve(ROUNDS + 1 + ".heapsnapshot"), type) - count(after, type);
        assertThat(gone).isGreaterThan(first.counts().get(ROUNDS + 1) * 8 / 10);
      }
    }
  }

  @ParameterizedTest
  @ValueSource(strings = {"healthyLru", "healthyStream"})
  void findsNothingInHealthyPrograms(String program) throws Exception {
    try (NodeYard yard = NodeYard.withPackages(program)) {
      GrowthAnswer answer = grow(yard);
      answer.findings().forEach(finding -> sureness.add(program, finding, false));
      assertThat(answer.findings()).as(answer.toString()).isEmpty();
    }
  }

  /** Of what is said to be sure nearly all must be right. */
  @AfterAll
  void suretyMeansSomething() {
    sureness.check();
  }

  private long count(Path file, String type) throws Exception {
    try (Snapshot snapshot = open(file)) {
      long count = 0;
      for (int t = 0; t < snapshot.types().size(); t++) {
        boolean same = snapshot.types().get(t).name().equals(type);
        count += same ? snapshot.counts(t).count() : 0;
      }
      return count;
    }
  }

  private Snapshot open(Path file) throws Exception {
    return Snapshots.open(file, new Snapshots.Options(null, folder, true, 1L << 30), Progress.NONE);
  }

  private GrowthAnswer grow(NodeYard yard) throws Exception {
    List<Snapshot> series = new ArrayList<>();
    try {
      yard.say("act " + WARM_UP * TIMES);
      for (int round = 0; round <= ROUNDS + 1; round++) {
        if (round > 0) {
          yard.say("act " + (round <= ROUNDS ? TIMES : LONG));
        }
        Path file = folder.resolve(round + ".heapsnapshot");
        yard.say("dump " + file);
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
