package lipsanon.fleet;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.ByteArrayOutputStream;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.TreeMap;
import org.junit.jupiter.api.RepeatedTest;
import org.junit.jupiter.api.RepetitionInfo;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Answers over random fleets, against a plain definition. */
class FleetQuestionTest {
  private static final long MEMORY = 256L << 20;
  private static final Instant START = Instant.parse("2026-11-20T00:00:00Z");

  @TempDir Path folder;

  /** A row of a snapshot's places. */
  private record Row(String what, String heldBy, boolean own, long count, long bytes) {}

  /** A snapshot with its places. */
  private record Shot(Item item, boolean failed, long retained, List<Row> rows) {}

  private static byte[] json(Shot shot) throws Exception {
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    try (Rows rows = new Rows(out, shot.item())) {
      if (shot.failed()) {
        rows.failed("it is damaged: \"Zoë\"\n'");
      } else {
        rows.row(
            FleetSchema.SNAPSHOTS,
            "ok",
            null,
            "JVM",
            "HPROF",
            1000L,
            10L,
            shot.retained(),
            0L,
            false,
            5L,
            7L,
            11L,
            START,
            1);
        for (Row row : shot.rows()) {
          rows.row(
              FleetSchema.HOLDERS,
              row.what(),
              row.heldBy(),
              "",
              row.own(),
              row.count(),
              row.bytes(),
              row.bytes(),
              "0x1");
        }
      }
    }
    return out.toByteArray();
  }

  private FleetAnswer ask(List<Shot> shots, int limit) throws Exception {
    try (FleetTables tables = FleetTables.open(folder.resolve("tables"), MEMORY)) {
      for (Shot shot : shots) {
        tables.keep(shot.item(), json(shot));
      }
      tables.merge();
      return FleetQuestion.ask(tables, limit);
    }
  }

  private static Item item(String service, String build, String host, int hour) {
    Instant taken = START.plusSeconds(3600L * hour);
    String address = "/dumps/" + service + "/" + build + "/" + host + "/" + hour + ".hprof";
    return new Item(address, new Labels(service, build, host, taken), 1000);
  }

  private static List<Shot> random(Random random) {
    List<Shot> shots = new ArrayList<>();
    String[] services = {"office", "pilots & tugs", "a/b"};
    for (String service : services) {
      int hosts = 1 + random.nextInt(4);
      int builds = 1 + random.nextInt(3);
      for (int h = 0; h < hosts; h++) {
        for (int b = 0; b < builds; b++) {
          int times = random.nextInt(6);
          int rise = random.nextInt(3) * 20;
          for (int t = 0; t < times; t++) {
            List<Row> rows = new ArrayList<>();
            long calls = 50 + (long) rise * t + (random.nextInt(8) == 0 ? random.nextInt(90) : 0);
            rows.add(new Row("Call", "Board.calls", true, calls, calls * 100));
            if (random.nextInt(4) > 0) {
              long texts = 20 + random.nextInt(200);
              rows.add(new Row("String", "static Log's \"x\"", false, texts, texts * 30));
            }
            if (h % 2 == 0) {
              rows.add(new Row("Call", "Other.calls", true, 10 + t, 1000 + 100L * t));
            }
            shots.add(
                new Shot(
                    item(service, "b" + b, "quay-" + h, 24 * b * 10 + 7 * t),
                    random.nextInt(10) == 0,
                    (h == 3 ? 9 : 1) * 100_000L + calls * 100,
                    rows));
          }
        }
      }
    }
    return shots;
  }

  /** By place: the hosts on which it grows, by looking at each series by itself. */
  private static Map<String, Set<String>> growing(List<Shot> shots) {
    Map<String, List<Shot>> byHost = new TreeMap<>();
    for (Shot shot : shots) {
      if (!shot.failed()) {
        Labels labels = shot.item().labels();
        byHost
            .computeIfAbsent(
                labels.service() + "\n" + labels.build() + "\n" + labels.host(),
                key -> new ArrayList<>())
            .add(shot);
      }
    }
    Map<String, Set<String>> growing = new HashMap<>();
    byHost.forEach(
        (host, series) -> {
          Set<String> places = new HashSet<>();
          series.forEach(
              shot -> shot.rows().forEach(row -> places.add(row.what() + "\n" + row.heldBy())));
          for (String place : places) {
            long[] counts = new long[series.size()];
            long[] bytes = new long[series.size()];
            for (int i = 0; i < counts.length; i++) {
              for (Row row : series.get(i).rows()) {
                if (place.equals(row.what() + "\n" + row.heldBy())) {
                  counts[i] = row.count();
                  bytes[i] = row.bytes();
                }
              }
            }
            if (new PlaceSeries(counts, bytes).grows()) {
              String[] parts = host.split("\n", -1);
              growing
                  .computeIfAbsent(parts[0] + "\n" + place, key -> new HashSet<>())
                  .add(parts[2]);
            }
          }
        });
    return growing;
  }

  @RepeatedTest(8)
  void whatGrowsIsWhatGrowsOnEachHost(RepetitionInfo repetition) throws Exception {
    long seed = 20261127L + repetition.getCurrentRepetition();
    List<Shot> shots = random(new Random(seed));
    FleetAnswer answer = ask(shots, 1000);
    Map<String, Set<String>> expected = growing(shots);
    Map<String, Integer> told = new HashMap<>();
    for (FleetAnswer.Growing row : answer.growing()) {
      told.put(row.service() + "\n" + row.what() + "\n" + row.heldBy(), (int) row.hostsGrowing());
      assertThat(row.hostsGrowing()).isLessThanOrEqualTo(row.hostsWatched());
      assertThat(row.hostsGrowing()).isLessThanOrEqualTo(row.hostsWith());
      assertThat(row.builds()).startsWith(row.since());
    }
    Map<String, Integer> counts = new HashMap<>();
    expected.forEach((place, hosts) -> counts.put(place, hosts.size()));
    assertThat(told).as("seed " + seed).isEqualTo(counts);
    assertThat(answer.snapshots()).isEqualTo(shots.stream().filter(shot -> !shot.failed()).count());
    assertThat(answer.failed()).isEqualTo(shots.stream().filter(Shot::failed).count());
    assertThat(answer.failures())
        .allMatch(failure -> failure.problem().equals("it is damaged: \"Zoë\"\n'"));
    // own places come before others
    List<Boolean> own = answer.growing().stream().map(FleetAnswer.Growing::own).toList();
    assertThat(own.stream().dropWhile(Boolean::booleanValue)).doesNotContain(true);
  }

  @Test
  void outliersAreMeasuredByTheirOwnService() throws Exception {
    List<Shot> shots = new ArrayList<>();
    for (int h = 0; h < 5; h++) {
      List<Row> rows = List.of(new Row("Call", "Board.calls", true, 50, 400));
      shots.add(new Shot(item("office", "b1", "quay-" + h, h), false, h == 4 ? 5000 : 1000, rows));
      shots.add(new Shot(item("tugs", "b1", "quay-" + h, h), false, 90_000, rows));
    }
    FleetAnswer answer = ask(shots, 10);
    assertThat(answer.outliers()).hasSize(1);
    FleetAnswer.Outlier outlier = answer.outliers().get(0);
    assertThat(outlier.host()).isEqualTo("quay-4");
    assertThat(outlier.service()).isEqualTo("office");
    assertThat(outlier.times()).isEqualTo(5);
    assertThat(answer.openFirst().file()).isEqualTo(outlier.file());
    // one snapshot each: growth cannot be told, and it says so
    assertThat(answer.sentence()).contains("growth cannot be told");
    assertThat(answer.growing()).isEmpty();
    assertThat(answer.everywhere()).hasSize(1);
    assertThat(answer.everywhere().get(0).hostsWith()).isEqualTo(5);
    assertThat(answer.everywhere().get(0).medianShare()).isEqualTo(0.4);
  }

  @Test
  void sinceWhichBuildIsByTheTimeOfBuildsNotByTheirNames() throws Exception {
    List<Shot> shots = new ArrayList<>();
    String[] builds = {"9", "10", "rc1"};
    for (int b = 0; b < builds.length; b++) {
      for (int t = 0; t < 3; t++) {
        long calls = b == 0 ? 50 : 50 + 20L * t;
        shots.add(
            new Shot(
                item("office", builds[b], "quay-0", 100 * b + t),
                false,
                10_000,
                List.of(new Row("Call", "Board.calls", true, calls, calls * 100))));
      }
    }
    FleetAnswer.Growing row = ask(shots, 10).growing().get(0);
    assertThat(row.since()).isEqualTo("10");
    assertThat(row.newInSince()).isTrue();
    assertThat(row.builds()).containsExactly("10", "rc1");
    try (FleetTables tables = FleetTables.open(folder.resolve("tables"), MEMORY)) {
      List<HostSeries> series = HostSeries.of(tables, row, 10);
      assertThat(series).hasSize(3);
      assertThat(series.stream().filter(one -> one.build().equals("10")).findFirst().orElseThrow())
          .isEqualTo(
              new HostSeries(
                  "quay-0",
                  "10",
                  List.of("2026-11-24T04:00:00Z", "2026-11-24T05:00:00Z", "2026-11-24T06:00:00Z"),
                  List.of(5000L, 7000L, 9000L)));
    }
  }

  @Test
  void noSnapshotAtAllIsAnAnswerToo() throws Exception {
    FleetAnswer answer = ask(List.of(), 10);
    assertThat(answer.snapshots()).isZero();
    assertThat(answer.growing()).isEmpty();
    assertThat(answer.openFirst()).isNull();
  }
}
