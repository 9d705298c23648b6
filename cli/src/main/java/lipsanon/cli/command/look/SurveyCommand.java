package lipsanon.cli.command.look;

import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import lipsanon.cli.Context;
import lipsanon.cli.ExitCodes;
import lipsanon.cli.command.FindingViews;
import lipsanon.cli.command.LimitOption;
import lipsanon.cli.command.SnapshotCommand;
import lipsanon.cli.term.Format;
import lipsanon.cli.term.SafeText;
import lipsanon.cli.term.Table;
import lipsanon.cli.term.View;
import lipsanon.index.ObjectReader;
import lipsanon.index.Snapshot;
import lipsanon.label.ObjectRow;
import lipsanon.label.TypeFilter;
import lipsanon.question.HeapArea;
import lipsanon.question.SavingsQuestion;
import lipsanon.question.SurveyAnswer;
import lipsanon.question.SurveyQuestion;
import lipsanon.question.TypeRow;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Parameters;

@Command(
    name = "survey",
    description = "A first look: how big, what kinds, who keeps most, what looks wrong.")
public final class SurveyCommand extends SnapshotCommand {
  /** Objects: that many take about a second, once. */
  private static final int QUICKLY_COUNTED = 2_000_000;

  @Parameters(index = "0", paramLabel = "SNAPSHOT", description = "A heap snapshot.")
  private Path file;

  @Mixin private LimitOption limit;

  /** The command. */
  public SurveyCommand(Context context) {
    super(context);
  }

  @Override
  public Integer call() throws Exception {
    try (Snapshot snapshot = open(file)) {
      TypeFilter mine = new TypeFilter(null, minePackages(), false);
      SurveyAnswer answer = SurveyQuestion.ask(snapshot, mine, limit.or(7));
      String saving = saving(snapshot, mine);
      print("survey", answer, () -> view(snapshot, answer, saving));
    }
    return ExitCodes.FINE;
  }

  /** The largest saving: counted now where that is quick, else only where it is known already. */
  private static String saving(Snapshot snapshot, TypeFilter mine) throws IOException {
    if (!SavingsNote.isKnown(snapshot) && snapshot.objectCount() <= QUICKLY_COUNTED) {
      SavingsNote.write(snapshot, SavingsQuestion.ask(snapshot, mine, 1));
    }
    return SavingsNote.read(snapshot);
  }

  private View view(Snapshot snapshot, SurveyAnswer answer, String saving) {
    Format format = format();
    View view = new View();
    view.heading(
        answer.snapshot().runtime()
            + " heap of "
            + heap(answer.snapshot(), format)
            + (answer.snapshot().capturedAt() == null
                ? ""
                : ", captured " + answer.snapshot().capturedAt()));
    answer.warnings().forEach(view::warning);
    view.line(
        "Besides, nothing keeps "
            + Format.count(answer.unretainedObjects())
            + " objects ("
            + format.size(answer.unretainedBytes())
            + "); soft references alone keep "
            + format.size(answer.totals().softBytes())
            + ", waiting finalizers "
            + format.size(answer.totals().finalizerBytes())
            + ".");
    FindingViews.add(view, answer.findings(), format);
    view.heading("Who keeps most");
    Table keepers =
        new Table()
            .number("retained")
            .number("share")
            .text("id")
            .longText("object")
            .longText("held by");
    for (ObjectRow row : answer.keepers()) {
      keepers.row(
          format.cell(row.retainedBytes()),
          Format.share(row.share()),
          row.id(),
          KeepersCommand.name(row),
          row.heldBy());
      keepers.own(own(snapshot, row.id()));
    }
    view.table(keepers);
    if (!answer.types().isEmpty()) {
      view.heading("Your own types, by what they retain together");
      types(view, answer.types(), format, true);
    }
    view.heading("Types with most bytes of their own");
    types(view, answer.libraryTypes(), format, false);
    areas(view, answer, format);
    layout(view, answer);
    if (!saving.isEmpty()) {
      view.line("Could be saved: " + SafeText.visible(saving));
    } else if (answer.snapshot().objects() > QUICKLY_COUNTED) {
      view.line("What could be saved is counted by `lipsanon savings` in heaps of this size.");
    }
    view.line(
        "One snapshot cannot tell what grows: take another later, and give both to `lipsanon"
            + " growth`.");
    String name = file(answer.snapshot());
    if (!answer.keepers().isEmpty()) {
      String first = answer.keepers().get(0).id();
      view.next("lipsanon keepers " + name + " --under " + first, "what the largest keeper keeps");
    }
    String asked =
        !answer.findings().isEmpty()
            ? answer.findings().get(0).what()
            : answer.types().isEmpty() ? "" : answer.types().get(0).type();
    if (!asked.isEmpty()) {
      view.next("lipsanon why " + name + " " + quote(asked), "why these objects are alive");
    }
    view.next("lipsanon savings " + name, "what could be saved though nothing leaks");
    return view;
  }

  /** Generations and the like, with what else .NET users look for. */
  private static void areas(View view, SurveyAnswer answer, Format format) {
    if (answer.areas().isEmpty()) {
      return;
    }
    view.heading("The parts of the heap");
    boolean blocks = answer.areas().stream().anyMatch(area -> area.freeBlocks() >= 0);
    Table table =
        new Table()
            .text("part")
            .number("objects")
            .number("bytes")
            .number("in arrays")
            .number("free between");
    if (blocks) {
      table.number("in blocks").number("largest");
    }
    table.number("kept for it");
    for (HeapArea area : answer.areas()) {
      List<Object> row = new ArrayList<>();
      row.add(area.area());
      row.add(area.count());
      row.add(format.cell(area.shallowBytes()));
      row.add(format.cell(area.arrayBytes()));
      row.add(
          area.usedBytes() == 0
              ? ""
              : format.cell(Math.max(0, area.usedBytes() - area.shallowBytes())));
      if (blocks) {
        row.add(area.freeBlocks());
        row.add(area.freeBlocks() > 0 ? format.cell(area.largestFreeBytes()) : "");
      }
      row.add(area.reservedBytes() == 0 ? "" : format.cell(area.reservedBytes()));
      table.row(row.toArray());
    }
    view.table(table);
    if (!answer.freeSizes().isEmpty()) {
      List<String> sizes = new ArrayList<>();
      for (ObjectReader.FreeSize size : answer.freeSizes()) {
        sizes.add(
            Format.count(size.blocks())
                + (size.atLeastBytes() == 0
                    ? " small ones"
                    : " from " + format.size(size.atLeastBytes()) + " on")
                + " ("
                + format.size(size.bytes())
                + ")");
      }
      view.line("Free blocks by size: " + String.join(", ", sizes) + ".");
    }
    if (answer.stackOnlyObjects() > 0) {
      view.line(
          Format.count(answer.stackOnlyObjects())
              + " objects ("
              + format.size(answer.stackOnlyBytes())
              + ") are kept by words on threads' stacks alone: by variables of running methods, or"
              + " by what these left behind.");
    }
    if (answer.totals().finalizerBytes() > 0) {
      view.line(
          format.size(answer.totals().finalizerBytes())
              + " wait for their finalizers, and are gone after the next collection unless a"
              + " finalizer blocks.");
    }
    for (SurveyAnswer.RootKind kind : answer.roots()) {
      if (kind.kind().startsWith("pinning")) {
        view.line(
            kind.count() == 1
                ? "One handle pins an object: it cannot be moved."
                : Format.count(kind.count()) + " handles pin objects: these cannot be moved.");
      }
    }
  }

  /** How the runtime lays out objects, where sizes follow from that and are not in the file. */
  private static void layout(View view, SurveyAnswer answer) {
    if (answer.layout().objectHeaderBytes() == 0) {
      return;
    }
    view.line(
        "Layout: object header "
            + answer.layout().objectHeaderBytes()
            + " bytes, array header "
            + answer.layout().arrayHeaderBytes()
            + ", reference "
            + answer.layout().referenceBytes()
            + ", alignment "
            + answer.layout().alignmentBytes()
            + (answer.estimatedTypes().isEmpty()
                ? "; every size is exact."
                : "; estimated: " + String.join(", ", answer.estimatedTypes()) + "."));
  }

  private static void types(
      View view, java.util.List<TypeRow> rows, Format format, boolean retained) {
    Table table = new Table().number("count").number("shallow");
    if (retained) {
      table.number("retained");
    }
    table.longText("type");
    for (TypeRow row : rows) {
      if (retained) {
        table.row(
            row.count(),
            format.cell(row.shallowBytes()),
            format.cell(row.retainedBytes()),
            row.type());
      } else {
        table.row(row.count(), format.cell(row.shallowBytes()), row.type());
      }
    }
    view.table(table);
  }
}
