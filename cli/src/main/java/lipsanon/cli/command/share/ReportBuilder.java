package lipsanon.cli.command.share;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.SQLException;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;
import lipsanon.array.IntList;
import lipsanon.change.FlightVerdict;
import lipsanon.change.GrowthAnswer;
import lipsanon.change.WatchedGrowth;
import lipsanon.cli.UsageException;
import lipsanon.cli.Version;
import lipsanon.cli.command.Answering;
import lipsanon.cli.command.FlightViews;
import lipsanon.cli.command.SnapshotCommand;
import lipsanon.cli.command.change.GrowthCommand;
import lipsanon.cli.page.PageData;
import lipsanon.fleet.FleetAnswer;
import lipsanon.fleet.FleetQuestion;
import lipsanon.fleet.FleetTables;
import lipsanon.fleet.HostSeries;
import lipsanon.holder.Finding;
import lipsanon.index.Recording;
import lipsanon.index.Snapshot;
import lipsanon.label.TypeFilter;
import lipsanon.live.Flight;
import lipsanon.live.HeapSeries;
import lipsanon.origin.FlightQuestion;
import lipsanon.origin.OriginsAnswer;
import lipsanon.origin.OriginsQuestion;
import lipsanon.question.GroupsQuestion;
import lipsanon.question.KeeperTree;
import lipsanon.question.KeeperTreeQuestion;
import lipsanon.question.SavingsAnswer;
import lipsanon.question.SavingsQuestion;
import lipsanon.question.SurveyAnswer;
import lipsanon.question.SurveyQuestion;
import lipsanon.question.TypeRow;
import lipsanon.question.TypesQuestion;
import lipsanon.question.WhyAnswer;
import lipsanon.question.WhyQuestion;
import lipsanon.select.SelectionParser;
import lipsanon.snapshot.Snapshots;

/** Asks all that a report page shows of the files that it is of. */
final class ReportBuilder {
  private static final int KEEPERS = 1500;
  private static final int ROWS = 12;
  private static final int KINDS = 12;
  private static final int WAYS = 3;
  private static final int WAY_STEPS = 40;
  private static final int FUNCTIONS = 150;
  private static final int PLACES = 6;
  private static final int MOST_FOR_SAVINGS = 3_000_000;
  private static final long FLEET_BYTES = 512L << 20;
  private static final int HOSTS = 30;

  private final SnapshotCommand command;
  private final List<Integer> actions;
  private final List<PageData.Source> sources = new ArrayList<>();
  private final List<String> commands = new ArrayList<>();
  private final List<Path> snapshots = new ArrayList<>();
  private final List<Path> light = new ArrayList<>();
  private final List<PageData.Origins> origins = new ArrayList<>();
  private final List<PageData.Watched> watched = new ArrayList<>();
  private final List<PageData.Fleet> fleets = new ArrayList<>();

  ReportBuilder(SnapshotCommand command, List<Integer> actions) {
    this.command = command;
    this.actions = actions;
  }

  /** Sorts the files by what they are; a folder stands for what is in it. */
  void add(List<Path> files) throws IOException {
    for (Path file : files) {
      if (FleetTables.isFleet(file)) {
        fleet(file);
      } else if (Files.isDirectory(file) && !file.toString().endsWith(".lipsanon")) {
        try (Stream<Path> inside = Files.list(file)) {
          add(inside.filter(Files::isRegularFile).filter(ReportBuilder::known).sorted().toList());
        }
      } else if (!file.toString().endsWith(".lipsanon")) {
        one(file);
      }
    }
  }

  private void fleet(Path folder) throws IOException {
    try (FleetTables tables = FleetTables.read(folder, FLEET_BYTES)) {
      FleetAnswer answer = FleetQuestion.ask(tables, ROWS);
      List<HostSeries> series =
          answer.growing().isEmpty()
              ? List.of()
              : HostSeries.of(tables, answer.growing().get(0), HOSTS);
      fleets.add(new PageData.Fleet(answer, series));
      sources.add(
          new PageData.Source(
              folder.toString(),
              answer.fileBytes(),
              "tables of " + answer.snapshots() + " snapshots"));
      commands.add("lipsanon fleet --tables " + Answering.quote(folder.toString()));
    } catch (SQLException e) {
      throw new IOException(folder + ": " + e.getMessage(), e);
    }
  }

  private static boolean known(Path file) {
    return file.toString()
        .matches(".*\\.(hprof|hprof\\.gz|heapsnapshot|nettrace|core|jfr|heapprofile|jsonl)");
  }

  private void one(Path file) throws IOException {
    HeapSeries series = Snapshots.series(file);
    if (series != null) {
      watched(file, series);
      return;
    }
    if (Snapshots.light(file) != null) {
      light.add(file);
      source(file, "light snapshot");
      return;
    }
    Recording samples = Snapshots.samples(file);
    if (samples != null) {
      origins(file, "", OriginsQuestion.ofSamples(file.toString(), samples, options()));
      source(file, "sampled allocations");
      return;
    }
    if (Files.exists(file) && file.toString().endsWith(".jfr")) {
      flight(file);
      return;
    }
    snapshots.add(file);
  }

  private void source(Path file, String what) throws IOException {
    sources.add(new PageData.Source(file.toString(), Files.size(file), what));
  }

  private static OriginsQuestion.Options options() {
    return new OriginsQuestion.Options(false, false, 0, Long.MAX_VALUE, FUNCTIONS);
  }

  private void flight(Path file) throws IOException {
    Flight flight = Snapshots.flight(file);
    if (flight == null) {
      snapshots.add(file);
      return;
    }
    FlightVerdict verdict = FlightViews.verdict(file, flight, command.minePackages());
    FlightQuestion.Options wanted =
        new FlightQuestion.Options(
            type -> true, "", FlightViews.own(command.minePackages()), options());
    origins(
        file, verdict.sentence(), FlightQuestion.ask(file.toString(), flight, wanted).origins());
    source(file, "recording of allocations");
  }

  private void origins(Path file, String sentence, OriginsAnswer answer) {
    origins.add(
        new PageData.Origins(
            file.toString(),
            answer.kind(),
            sentence,
            answer.sampled(),
            answer.functions().subList(0, Math.min(ROWS, answer.functions().size())),
            answer.stacks()));
    commands.add("lipsanon origins " + Answering.quote(file.toString()));
  }

  private void watched(Path file, HeapSeries series) throws IOException {
    List<List<Double>> used = new ArrayList<>();
    List<List<Double>> survived = new ArrayList<>();
    long start = series.heap().isEmpty() ? 0 : series.heap().get(0).atMillis();
    long collections = -1;
    for (HeapSeries.Heap heap : series.heap()) {
      double seconds = (heap.atMillis() - start) / 1000.0;
      used.add(List.of(seconds, (double) heap.usedBytes()));
      if (heap.survivedBytes() >= 0 && heap.collections() != collections) {
        survived.add(List.of(seconds, (double) heap.survivedBytes()));
        collections = heap.collections();
      }
    }
    TypeFilter mine = new TypeFilter(null, command.minePackages(), false);
    GrowthAnswer verdict = WatchedGrowth.ask(file.toString(), series, mine);
    watched.add(
        new PageData.Watched(
            series.program().isEmpty() ? series.process() : series.program(),
            verdict.sentence(),
            used,
            survived));
    source(file, "series of a watched heap");
    commands.add("lipsanon growth " + Answering.quote(file.toString()));
  }

  /** Asks; the last snapshot stays open for the caller where it is to be served. */
  PageData build(String title, boolean live, Snapshot[] opened) throws Exception {
    GrowthAnswer growth = growth();
    if (snapshots.isEmpty()) {
      return page(title, null, live, growth, null, null, List.of());
    }
    Path last = last(growth);
    Snapshot snapshot = command.open(last);
    try {
      PageData data = whole(title, live, growth, last, snapshot);
      opened[0] = live ? snapshot : null;
      return data;
    } finally {
      if (opened[0] == null) {
        snapshot.close();
      }
    }
  }

  private GrowthAnswer growth() throws Exception {
    List<Path> series = new ArrayList<>(snapshots);
    series.addAll(light);
    if (series.size() < 2) {
      if (snapshots.isEmpty() && !light.isEmpty()) {
        throw new UsageException("a light snapshot alone has nothing to show: give two or more");
      }
      return null;
    }
    StringBuilder line = new StringBuilder("lipsanon growth");
    series.forEach(file -> line.append(' ').append(Answering.quote(file.toString())));
    if (!actions.isEmpty()) {
      line.append(" --actions ")
          .append(String.join(",", actions.stream().map(String::valueOf).toList()));
    }
    commands.add(line.toString());
    return GrowthCommand.ask(command, series, actions);
  }

  private Path last(GrowthAnswer growth) {
    if (growth != null) {
      String name = growth.snapshots().get(growth.snapshots().size() - 1).file();
      for (Path file : snapshots) {
        if (file.toString().equals(name)) {
          return file;
        }
      }
    }
    return snapshots.get(snapshots.size() - 1);
  }

  private PageData whole(
      String title, boolean live, GrowthAnswer growth, Path last, Snapshot snapshot)
      throws Exception {
    TypeFilter mine = new TypeFilter(null, command.minePackages(), false);
    for (Path file : snapshots) {
      source(file, "snapshot (" + snapshot.facts().runtime() + ")");
    }
    String name = Answering.quote(last.toString());
    commands.add("lipsanon survey " + name);
    SurveyAnswer survey = SurveyQuestion.ask(snapshot, mine, ROWS);
    KeeperTree keepers = KeeperTreeQuestion.ask(snapshot, mine, KEEPERS);
    List<String> found = new ArrayList<>();
    List<Finding> findings = growth != null ? growth.findings() : survey.findings();
    for (Finding finding : findings) {
      found.add(finding.what());
    }
    if (found.isEmpty() && !survey.types().isEmpty()) {
      found.add(survey.types().get(0).type());
    }
    List<WhyAnswer> ways = new ArrayList<>();
    for (String what : found.stream().distinct().limit(WAYS).toList()) {
      way(snapshot, what, ways);
      commands.add("lipsanon why " + name + " " + Answering.quote(what));
    }
    if (snapshot.objects().recording() != null) {
      origins(last, "", OriginsQuestion.ofSnapshot(snapshot, "", null, options()));
    }
    return page(title, snapshot, live, growth, survey, keepers, ways);
  }

  private void way(Snapshot snapshot, String what, List<WhyAnswer> ways) throws Exception {
    IntList nodes;
    try {
      nodes = IntList.of(command.select(snapshot, SelectionParser.quoted(what)));
    } catch (IOException | RuntimeException e) {
      // several types in one finding, or one that is no type: its path is in the page anyway
      return;
    }
    if (!nodes.isEmpty()) {
      TypeFilter own = new TypeFilter(null, command.minePackages(), true);
      ways.add(WhyQuestion.ofObjects(snapshot, what, nodes, WAY_STEPS, false, own));
    }
  }

  private PageData page(
      String title,
      Snapshot snapshot,
      boolean live,
      GrowthAnswer growth,
      SurveyAnswer survey,
      KeeperTree keepers,
      List<WhyAnswer> ways)
      throws IOException {
    TypeFilter mine = new TypeFilter(null, command.minePackages(), false);
    return new PageData(
        title,
        snapshot == null ? "" : Answering.quote(snapshot.file().toString()),
        live,
        growth,
        survey,
        keepers,
        snapshot == null
            ? null
            : GroupsQuestion.ask(snapshot, GroupsQuestion.By.KIND, false, mine, KINDS),
        snapshot == null ? null : types(snapshot, mine),
        ways,
        origins,
        watched,
        fleets,
        savings(snapshot, mine),
        new PageData.Made(
            Version.text(),
            Instant.now().truncatedTo(ChronoUnit.SECONDS).toString(),
            sources,
            commands));
  }

  /** Reads all texts and arrays: only where that is over soon. */
  private SavingsAnswer savings(Snapshot snapshot, TypeFilter mine) throws IOException {
    if (snapshot == null || snapshot.objectCount() > MOST_FOR_SAVINGS) {
      return null;
    }
    commands.add("lipsanon savings " + Answering.quote(snapshot.file().toString()));
    return SavingsQuestion.ask(snapshot, mine, PLACES);
  }

  private static PageData.Types types(Snapshot snapshot, TypeFilter mine) {
    List<TypeRow> rows =
        TypesQuestion.ask(snapshot, mine, TypesQuestion.Sort.RETAINED, Integer.MAX_VALUE).types();
    List<String> names = new ArrayList<>(rows.size());
    List<Long> counts = new ArrayList<>(rows.size());
    List<Long> shallow = new ArrayList<>(rows.size());
    List<Long> retained = new ArrayList<>(rows.size());
    List<Boolean> own = new ArrayList<>(rows.size());
    boolean exact = true;
    for (TypeRow row : rows) {
      names.add(row.type() + (row.loader().isEmpty() ? "" : " (" + row.loader() + ")"));
      counts.add(row.count());
      shallow.add(row.shallowBytes());
      retained.add(row.retainedBytes());
      own.add(row.own());
      exact &= row.retainedExact();
    }
    return new PageData.Types(names, counts, shallow, retained, own, exact);
  }
}
