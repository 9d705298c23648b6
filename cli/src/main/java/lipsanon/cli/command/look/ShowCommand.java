package lipsanon.cli.command.look;

import java.nio.file.Path;
import java.util.List;
import lipsanon.cli.Context;
import lipsanon.cli.ExitCodes;
import lipsanon.cli.command.LimitOption;
import lipsanon.cli.command.SnapshotCommand;
import lipsanon.cli.term.Format;
import lipsanon.cli.term.Table;
import lipsanon.cli.term.View;
import lipsanon.index.Snapshot;
import lipsanon.question.ShowAnswer;
import lipsanon.question.ShowQuestion;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Parameters;

@Command(name = "show", description = "One object: fields, contents, references, sizes.")
public final class ShowCommand extends SnapshotCommand {
  private static final int FRAMES = 5;
  private static final int TEXT = 300;

  @Parameters(index = "0", paramLabel = "SNAPSHOT", description = "A heap snapshot.")
  private Path file;

  @Parameters(
      index = "1..*",
      arity = "1..*",
      paramLabel = "OBJECT",
      description = "Its identifier, or a selection: then the one that retains most.")
  private List<String> object;

  @Mixin private LimitOption limit;

  /** The command. */
  public ShowCommand(Context context) {
    super(context);
  }

  @Override
  public Integer call() throws Exception {
    try (Snapshot snapshot = open(file)) {
      ShowAnswer answer =
          ShowQuestion.ask(snapshot, object(snapshot, String.join(" ", object)), limit.or(12));
      print("show", answer, () -> view(answer));
    }
    return ExitCodes.FINE;
  }

  private View view(ShowAnswer answer) {
    Format format = format();
    View view = new View();
    view.heading(KeepersCommand.name(answer.object()) + " at " + answer.object().id());
    view.line(
        format.size(answer.object().shallowBytes())
            + " shallow, "
            + format.size(answer.object().retainedBytes())
            + " retained ("
            + Format.percent(answer.object().share())
            + " of the heap), strength "
            + answer.strength()
            + ", depth "
            + answer.depth()
            + (answer.length() >= 0 ? ", " + Format.count(answer.length()) + " elements" : ""));
    view.line("held by: " + answer.object().heldBy());
    if (answer.object().closed()) {
      view.warning("it says of itself that it is closed or disposed of, and is still held.");
    }
    if (answer.dominator() != null) {
      view.line(
          "dominated by: "
              + KeepersCommand.name(answer.dominator())
              + " "
              + answer.dominator().id());
    }
    if (answer.text() != null) {
      String text = answer.text();
      view.line("text: \"" + (text.length() > TEXT ? text.substring(0, TEXT) + "…" : text) + "\"");
    }
    origin(view, answer.origin());
    entries(view, answer);
    fields(view, answer);
    references(view, "Referred to by", answer.referencesIn(), answer.referencesInTotal());
    references(view, "Refers to", answer.referencesOut(), answer.referencesOutTotal());
    String name = file(answer.snapshot());
    view.next("lipsanon why " + name + " " + answer.object().id(), "what keeps it alive");
    return view.next(
        "lipsanon keepers " + name + " --under " + answer.object().id(), "what it keeps");
  }

  /** Where an object was allocated. */
  static void origin(View view, List<String> frames) {
    if (!frames.isEmpty()) {
      int shown = Math.min(FRAMES, frames.size());
      view.line(
          "allocated in "
              + String.join(", called by ", frames.subList(0, shown))
              + (shown < frames.size() ? ", …" : ""));
    }
  }

  private void entries(View view, ShowAnswer answer) {
    if (answer.entries().isEmpty()) {
      return;
    }
    boolean map = answer.entries().stream().anyMatch(entry -> entry.key() != null);
    view.heading(
        "Contents"
            + (answer.size() >= 0
                ? ": the first " + answer.entries().size() + " of " + Format.count(answer.size())
                : ""));
    Table table =
        map
            ? new Table().longText("key").longText("value").text("id")
            : new Table().longText("element").text("id");
    for (ShowAnswer.EntryRow row : answer.entries()) {
      String valueId = row.id() == null ? "" : row.id();
      if (map) {
        table.row(String.valueOf(row.key()), row.value(), valueId);
      } else {
        table.row(row.value(), valueId);
      }
    }
    view.table(table);
  }

  private void fields(View view, ShowAnswer answer) {
    if (answer.fields().isEmpty()) {
      return;
    }
    boolean array = answer.length() >= 0;
    boolean some = array && answer.length() > answer.fields().size();
    view.heading(
        !array ? "Fields" : some ? "Elements: the first " + answer.fields().size() : "Elements");
    Table table =
        new Table().longText("name").text("type").text("value").longText("what").number("retained");
    for (ShowAnswer.Value value : answer.fields()) {
      table.row(
          value.name(),
          value.type(),
          value.value(),
          value.target(),
          value.target().isEmpty() ? "" : format().cell(value.retainedBytes()));
    }
    view.table(table);
  }

  private void references(View view, String title, List<ShowAnswer.ReferenceRow> rows, long total) {
    view.heading(
        title + (total > rows.size() ? " " + Format.count(total) + " objects, the largest:" : ""));
    if (rows.isEmpty()) {
      view.line("nothing");
      return;
    }
    Table table =
        new Table().number("retained").text("id").longText("object").longText("by").text("kind");
    for (ShowAnswer.ReferenceRow row : rows) {
      String label = row.label().isEmpty() ? "" : " " + row.label();
      table.row(
          format().cell(row.retainedBytes()),
          row.id(),
          row.type().equals("java.lang.Class") ? row.label() : row.type() + label,
          row.via(),
          row.kind());
    }
    view.table(table);
  }
}
