package lipsanon.cli.command.change;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import lipsanon.change.GrowthAnswer;
import lipsanon.change.GrowthQuestion;
import lipsanon.change.TypesGrowth;
import lipsanon.change.WatchedGrowth;
import lipsanon.cli.Context;
import lipsanon.cli.ExitCodes;
import lipsanon.cli.UsageException;
import lipsanon.cli.command.GrowthViews;
import lipsanon.cli.command.PictureOptions;
import lipsanon.cli.command.SeriesCheck;
import lipsanon.cli.command.SeriesFiles;
import lipsanon.cli.command.SnapshotCommand;
import lipsanon.cli.command.TypeTables;
import lipsanon.cli.draw.Picture;
import lipsanon.cli.draw.SeriesPicture;
import lipsanon.holder.Finding;
import lipsanon.index.Snapshot;
import lipsanon.label.TypeFilter;
import lipsanon.live.HeapSeries;
import lipsanon.snapshot.Snapshots;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

@Command(
    name = "growth",
    description = "What grows steadily over two or more snapshots, where, and who holds it?")
public final class GrowthCommand extends SnapshotCommand {
  @Parameters(
      arity = "1..*",
      paramLabel = "SNAPSHOT",
      description =
          "Two or more snapshots of one program, whole or light, or a folder with them; three or"
              + " more show a trend. Or one series that `lipsanon watch --record` kept.")
  private List<Path> files;

  @Option(
      names = "--actions",
      paramLabel = "N[,N...]",
      hideParamSyntax = true,
      split = ",",
      description =
          "The action was done N times between each two snapshots; one number for each"
              + " interval where these differ (a long last one tells caches from leaks).")
  private List<Integer> actions = List.of();

  @Option(
      names = "--fail-on-growth",
      arity = "0..1",
      fallbackValue = "0",
      paramLabel = "BYTES",
      description = "Exit code 1 if something grows (by more than BYTES an action or snapshot).")
  private Long failOnGrowth;

  @Mixin private PictureOptions picture;

  /** The command. */
  public GrowthCommand(Context context) {
    super(context);
  }

  @Override
  public Integer call() throws Exception {
    GrowthAnswer answer = ask(this, files, actions);
    picture.draw(() -> drawn(answer));
    print("growth", answer, () -> GrowthViews.view(answer, format()));
    boolean failed = failOnGrowth != null && grows(answer, failOnGrowth);
    return failed ? ExitCodes.CHECK_FAILED : ExitCodes.FINE;
  }

  private Picture drawn(GrowthAnswer answer) throws Exception {
    List<SeriesPicture.Line> lines = new ArrayList<>();
    HeapSeries watched = files.size() == 1 ? Snapshots.series(files.get(0)) : null;
    if (watched != null) {
      long start = watched.heap().isEmpty() ? 0 : watched.heap().get(0).atMillis();
      List<Double> seconds = new ArrayList<>();
      List<Double> used = new ArrayList<>();
      List<Double> survived = new ArrayList<>();
      for (HeapSeries.Heap heap : watched.heap()) {
        seconds.add((heap.atMillis() - start) / 1000.0);
        used.add((double) Math.max(0, heap.usedBytes()));
        survived.add((double) Math.max(0, heap.survivedBytes()));
      }
      lines.add(new SeriesPicture.Line("what survives collections", seconds, survived));
      lines.add(new SeriesPicture.Line("in use", seconds, used));
      return new SeriesPicture(answer.sentence(), "seconds", lines);
    }
    lines.add(SeriesPicture.counted("the heap", answer.heapBytes()));
    for (Finding finding : answer.findings()) {
      lines.add(
          SeriesPicture.counted(finding.what() + ", held by " + finding.heldBy(), finding.bytes()));
    }
    return new SeriesPicture(answer.sentence(), "snapshot", lines);
  }

  /** Opens a series, puts it in time order, and asks. */
  public static GrowthAnswer ask(SnapshotCommand command, List<Path> given, List<Integer> actions)
      throws Exception {
    List<Path> files = SeriesFiles.of(given);
    HeapSeries watched = files.size() == 1 ? Snapshots.series(files.get(0)) : null;
    if (watched != null) {
      TypeFilter mine = new TypeFilter(null, command.minePackages(), false);
      return WatchedGrowth.ask(files.get(0).toString(), watched, mine);
    }
    if (files.size() < 2) {
      throw new UsageException("a series takes two or more snapshots");
    }
    if (actions.stream().anyMatch(n -> n < 1)) {
      throw new UsageException(
          "--actions takes whole numbers from 1 on, each for an interval between two snapshots");
    }
    if (actions.size() > 1 && actions.size() != files.size() - 1) {
      throw new UsageException(
          "--actions takes one number, or one for each of the "
              + (files.size() - 1)
              + " intervals between the snapshots");
    }
    if (!Snapshots.sameGrain(files)) {
      TypeFilter none = new TypeFilter(null, command.minePackages(), false);
      int[] between = new GrowthQuestion.Options(none, actions).between(files.size());
      return TypesGrowth.ask(TypeTables.read(command, files), between);
    }
    List<Snapshot> series = new ArrayList<>();
    try {
      command.openAll(files, series);
      SeriesCheck.check(series);
      if (series.stream().allMatch(snapshot -> snapshot.facts().capturedAtMillis() > 0)) {
        series.sort(Comparator.comparingLong(snapshot -> snapshot.facts().capturedAtMillis()));
      }
      TypeFilter mine = new TypeFilter(null, command.minePackages(), false);
      return GrowthQuestion.ask(series, new GrowthQuestion.Options(mine, actions));
    } finally {
      for (Snapshot snapshot : series) {
        snapshot.close();
      }
    }
  }

  public static boolean grows(GrowthAnswer answer, long allowed) {
    return answer.findings().stream().anyMatch(one -> answer.bytesEach(one) > allowed);
  }
}
