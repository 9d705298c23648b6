package lipsanon.fleet;

import com.sun.management.OperatingSystemMXBean;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.lang.management.ManagementFactory;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import lipsanon.change.PileRow;
import lipsanon.change.PilesQuestion;
import lipsanon.holder.Finding;
import lipsanon.index.Snapshot;
import lipsanon.index.Totals;
import lipsanon.io.Progress;
import lipsanon.label.ObjectRow;
import lipsanon.label.Ownership;
import lipsanon.label.TypeFilter;
import lipsanon.question.SurveyAnswer;
import lipsanon.question.SurveyQuestion;
import lipsanon.question.TypeRow;
import lipsanon.question.TypesQuestion;
import lipsanon.snapshot.Snapshots;

/**
 * Indexes one snapshot and makes rows of it: a few hundred, whatever its size. The index is gone
 * afterwards. Names of types, fields and threads are in the rows; texts and values are not.
 */
final class Reduction {
  private static final int KEEPERS = 20;
  private static final int OWN_TYPES = 100;
  private static final int LARGEST_TYPES = 50;
  private static final int PLACES = 60;
  private static final double USABLE = 0.85;

  private Reduction() {}

  /**
   * How to look.
   *
   * @param scratch an empty folder for the index
   * @param memoryBytes that indexing may take; beyond, it works in scratch files
   * @param hidingKey 16 bytes: what of contents would be told is a hash with this key
   * @param mine own packages, none: found by the runtime's own signs
   */
  record Options(Path scratch, long memoryBytes, byte[] hidingKey, List<String> mine) {}

  /** What a task reads and leaves, and when it began. */
  private record Cost(long begin, long fileBytes, long rowBytes) {}

  /** The rows of a snapshot that lies in a file, as JSON Lines. */
  static byte[] of(Item item, Path file, Options options) throws Exception {
    long begin = System.nanoTime();
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    Snapshots.Options opening =
        new Snapshots.Options(
                options.scratch(),
                options.scratch(),
                false,
                (long) (options.memoryBytes() * USABLE))
            .hiding(options.hidingKey());
    try (Snapshot snapshot = Snapshots.open(file, opening, Progress.NONE);
        Rows rows = new Rows(out, item)) {
      TypeFilter mine = new TypeFilter(null, options.mine(), false);
      SurveyAnswer survey = SurveyQuestion.ask(snapshot, mine, KEEPERS);
      types(rows, snapshot, mine);
      keepers(rows, survey);
      findings(rows, survey);
      holders(rows, snapshot, mine);
      rows.flush();
      summary(rows, item, snapshot, survey, new Cost(begin, Files.size(file), out.size()));
    }
    return out.toByteArray();
  }

  private static void summary(
      Rows rows, Item item, Snapshot snapshot, SurveyAnswer survey, Cost cost) throws IOException {
    Totals totals = snapshot.totals();
    long cpu = ManagementFactory.getPlatformMXBean(OperatingSystemMXBean.class).getProcessCpuTime();
    rows.row(
        FleetSchema.SNAPSHOTS,
        "ok",
        survey.warnings().isEmpty() ? null : survey.warnings().get(0),
        survey.snapshot().runtime(),
        survey.format(),
        item.bytes() < 0 ? cost.fileBytes : item.bytes(),
        totals.objects(),
        totals.retainedBytes(),
        totals.shallowBytes() - totals.retainedBytes(),
        snapshot.facts().partial(),
        (System.nanoTime() - cost.begin) / 1_000_000,
        cpu / 1_000_000,
        cost.rowBytes,
        Instant.now(),
        FleetSchema.VERSION);
  }

  private static void types(Rows rows, Snapshot snapshot, TypeFilter mine) throws IOException {
    TypeFilter own = new TypeFilter(null, mine.mine(), true);
    Set<TypeRow> told = new LinkedHashSet<>();
    told.addAll(TypesQuestion.ask(snapshot, own, TypesQuestion.Sort.RETAINED, OWN_TYPES).types());
    told.addAll(
        TypesQuestion.ask(snapshot, TypeFilter.ALL, TypesQuestion.Sort.SHALLOW, LARGEST_TYPES)
            .types());
    Set<String> names = new LinkedHashSet<>();
    for (TypeRow type : told) {
      // one row a name and loader: the second list may tell the same type again
      if (type.count() > 0 && names.add(type.type() + "\n" + type.loader())) {
        rows.row(
            FleetSchema.TYPES,
            type.type(),
            type.own(),
            type.count(),
            type.shallowBytes(),
            type.retainedBytes());
      }
    }
  }

  private static void keepers(Rows rows, SurveyAnswer survey) throws IOException {
    for (ObjectRow keeper : survey.keepers()) {
      rows.row(
          FleetSchema.KEEPERS, keeper.id(), keeper.type(), keeper.heldBy(), keeper.retainedBytes());
    }
  }

  private static void findings(Rows rows, SurveyAnswer survey) throws IOException {
    for (Finding finding : survey.findings()) {
      rows.row(
          FleetSchema.FINDINGS,
          finding.what(),
          finding.heldBy(),
          last(finding.counts()),
          last(finding.bytes()),
          finding.confidence(),
          finding.sentence());
    }
  }

  private static Long last(List<Long> values) {
    return values.isEmpty() ? null : values.get(values.size() - 1);
  }

  private static void holders(Rows rows, Snapshot snapshot, TypeFilter mine) throws IOException {
    for (PileRow pile : PilesQuestion.ask(snapshot, mine, PLACES)) {
      rows.row(
          FleetSchema.HOLDERS,
          pile.what(),
          pile.heldBy(),
          pile.inside(),
          pile.whose() == Ownership.Whose.OWN,
          pile.count(),
          pile.bytes(),
          pile.freesBytes(),
          pile.example());
    }
  }
}
