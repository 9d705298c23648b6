package lipsanon.cli.command.look;

import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.BitSet;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import lipsanon.array.IntList;
import lipsanon.cli.Context;
import lipsanon.cli.ExitCodes;
import lipsanon.cli.UsageException;
import lipsanon.cli.command.GrowthViews;
import lipsanon.cli.command.LimitOption;
import lipsanon.cli.command.SnapshotCommand;
import lipsanon.cli.draw.PictureFile;
import lipsanon.cli.draw.Ways;
import lipsanon.cli.draw.WaysPicture;
import lipsanon.cli.term.Format;
import lipsanon.cli.term.Table;
import lipsanon.cli.term.View;
import lipsanon.index.Snapshot;
import lipsanon.io.UnsupportedInputException;
import lipsanon.label.Closed;
import lipsanon.label.ObjectRow;
import lipsanon.label.Step;
import lipsanon.label.TypeFilter;
import lipsanon.question.CutAnswer;
import lipsanon.question.CutQuestion;
import lipsanon.question.WaysAnswer;
import lipsanon.question.WhyAnswer;
import lipsanon.question.WhyQuestion;
import lipsanon.select.SelectionParser;
import lipsanon.select.Selections;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

@Command(
    name = "why",
    description =
        "Why is this still alive? The nearest paths from roots, merged for a set; and what to cut.")
public final class WhyCommand extends SnapshotCommand {
  private static final int PATHS = 3;

  /** Below the merged tree one path in full is enough. */
  private static final int PATHS_IN_TEXT = 1;

  @Parameters(index = "0", paramLabel = "SNAPSHOT", description = "A heap snapshot.")
  private Path file;

  @Parameters(
      index = "1..*",
      arity = "0..*",
      paramLabel = "SELECTION",
      description = "An object's identifier, a type, or any selection.")
  private List<String> words;

  @Mixin private LimitOption limit;

  @Option(
      names = "--cut",
      paramLabel = "FROM.FIELD",
      description =
          "What exactly would be freed if this reference were cleared: an identifier or a type,"
              + " a dot, a field; [] for the elements of an array.")
  private String cut;

  @Option(names = "--cuts", description = "The few references whose clearing frees all of these.")
  private boolean cuts;

  @Option(names = "--svg", paramLabel = "FILE", description = "The merged paths as a picture.")
  private Path svg;

  @Option(names = "--png", paramLabel = "FILE", description = "The merged paths as a picture.")
  private Path png;

  @Option(
      names = "--dot",
      paramLabel = "FILE",
      description = "The merged paths in the DOT language, for other layout programs.")
  private Path dot;

  @Option(
      names = "--closed-fields",
      paramLabel = "NAMES",
      split = ",",
      description =
          "Fields that say of an object that it is done with (default: closed, disposed,"
              + " destroyed and the like).")
  private Set<String> closed;

  @Option(
      names = "--whole",
      description = "Paths from the root on, what keeps your own code loaded included.")
  private boolean whole;

  private boolean one;

  /** The command. */
  public WhyCommand(Context context) {
    super(context);
  }

  @Override
  public Integer call() throws Exception {
    String subject = words == null ? "" : String.join(" ", words);
    if (subject.isEmpty() && cut == null) {
      throw new UsageException("give an object, a type or a selection, or --cut FROM.FIELD");
    }
    try (Snapshot snapshot = open(file)) {
      if (cut != null || cuts) {
        CutAnswer answer = cut == null ? fewest(snapshot, subject) : cleared(snapshot, subject);
        print("why", answer, () -> CutViews.of(answer, file.toString(), format()));
        return ExitCodes.FINE;
      }
      one = Selections.isIdentifier(subject);
      WhyAnswer answer =
          one
              ? WhyQuestion.ofObject(
                  snapshot,
                  object(snapshot, subject),
                  whole,
                  closed == null ? Closed.NAMES : small(closed))
              : WhyQuestion.ofObjects(
                  snapshot,
                  subject,
                  IntList.of(select(snapshot, subject)),
                  limit.or(PATHS),
                  whole,
                  new TypeFilter(null, minePackages(), true));
      draw(snapshot, answer);
      print("why", answer, () -> view(snapshot, answer));
    }
    return ExitCodes.FINE;
  }

  private static Set<String> small(Set<String> names) {
    Set<String> small = new HashSet<>();
    names.forEach(name -> small.add(name.strip().toLowerCase(Locale.ROOT)));
    return small;
  }

  private CutAnswer fewest(Snapshot snapshot, String subject) throws Exception {
    TypeFilter own = new TypeFilter(null, minePackages(), false);
    return CutQuestion.ofSet(snapshot, select(snapshot, subject), subject, own);
  }

  private CutAnswer cleared(Snapshot snapshot, String subject) throws Exception {
    int end = cut.endsWith("]") ? cut.lastIndexOf('[') : cut.lastIndexOf('.');
    if (end <= 0) {
      throw new UsageException("--cut takes FROM.FIELD, such as 0x7000a8.calls or TideBoard.calls");
    }
    String field = cut.substring(cut.charAt(end) == '.' ? end + 1 : end);
    String from = cut.substring(0, end);
    from = from.endsWith(".") ? from.substring(0, from.length() - 1) : from;
    boolean isStatic = from.startsWith("static ");
    if (isStatic) {
      from = SelectionParser.quoted("class " + from.substring("static ".length()));
    }
    // a static field is the class object's
    BitSet classes = isStatic ? new BitSet() : Selections.classes(snapshot, from);
    boolean objects = isStatic || classes.isEmpty() || Selections.hasObjects(snapshot, from);
    BitSet sources = objects ? select(snapshot, from) : classes;
    BitSet set = subject.isEmpty() ? null : select(snapshot, subject);
    CutAnswer answer = CutQuestion.ofField(snapshot, set, subject, sources, field, cut);
    if (answer.cuts().get(0).references() == 0 && !classes.isEmpty()) {
      answer = CutQuestion.ofField(snapshot, set, subject, classes, field, cut);
    }
    if (answer.cuts().get(0).references() == 0) {
      throw new UnsupportedInputException(
          file.toString(), "has no reference " + field + " in " + from + " (see `lipsanon show`)");
    }
    return answer;
  }

  private void draw(Snapshot snapshot, WhyAnswer answer) throws Exception {
    if (svg == null && png == null && dot == null) {
      return;
    }
    Ways ways = Ways.of(answer, new TypeFilter(null, minePackages(), true), snapshot);
    if (dot != null) {
      PictureFile.write(dot, out -> out.write(ways.dot().getBytes(StandardCharsets.UTF_8)));
    }
    if (svg != null) {
      PictureFile.write(svg, out -> WaysPicture.svg(ways, out));
    }
    if (png != null) {
      PictureFile.write(png, out -> WaysPicture.png(ways, out));
    }
  }

  private View view(Snapshot snapshot, WhyAnswer answer) {
    View view = new View();
    warnings(view, snapshot);
    if (answer.paths().isEmpty()) {
      view.heading(
          one
              ? answer.subject() + " is not retained"
              : answer.objects() == 0
                  ? "Nothing fits " + answer.subject()
                  : "None of these is retained: " + answer.subject());
      if (answer.objects() > 0) {
        view.line(
            "Nothing that the snapshot records keeps it: it is garbage, held weakly, or held by"
                + " the runtime itself.");
      }
      if (!answer.weakly().isEmpty()) {
        view.line("What refers to it and does not keep it: " + String.join("; ", answer.weakly()));
      }
      return view;
    }
    if (!one) {
      view.line(sample(answer));
      tree(view, answer.ways());
    }
    if (!answer.closed().isEmpty()) {
      view.warning(
          "its field " + answer.closed() + " says that it is done with, and it is still held.");
    }
    int shown = one ? answer.paths().size() : Math.min(PATHS_IN_TEXT, answer.paths().size());
    for (WhyAnswer.Path path : answer.paths().subList(0, shown)) {
      Step last = path.steps().get(path.steps().size() - 1);
      view.heading(
          one
              ? last.type() + " " + last.id() + " is kept by this path"
              : Format.count(path.count())
                  + " ("
                  + Format.percent(path.share())
                  + ") are kept like this one, "
                  + last.id());
      if (!path.strength().equals("strong")) {
        view.line(
            path.strength().equals("finalizer")
                ? "It only waits for its finalizer: nothing of the program's own keeps it."
                : "It is kept only softly: it goes when memory becomes short.");
      }
      view.table(steps(path.steps()));
      ShowCommand.origin(view, path.origin());
    }
    dominators(view, answer);
    Step last = answer.paths().get(0).steps().get(answer.paths().get(0).steps().size() - 1);
    String name = file(answer.snapshot());
    if (!one) {
      view.next(
          "lipsanon why " + name + " " + quote(answer.subject()) + " --cuts",
          "the few references whose clearing frees them");
    }
    return view.next(
        "lipsanon show " + name + " " + last.id(), "this object's fields and references");
  }

  /** All nearest paths, shared steps once. */
  private static void tree(View view, WaysAnswer ways) {
    if (ways == null || ways.nodes().isEmpty()) {
      return;
    }
    Table table =
        new Table()
            .number("lead to")
            .number("end here")
            .longText("how they are held, from the roots down")
            .number("objects")
            .text("id");
    int[] level = new int[ways.nodes().size()];
    int[] branches = new int[ways.nodes().size()];
    for (WaysAnswer.Node node : ways.nodes()) {
      if (node.parent() >= 0) {
        branches[node.parent()]++;
      }
    }
    for (WaysAnswer.Node node : ways.nodes()) {
      // a step that is the only one goes on at the same place: long ways stay narrow
      level[node.number()] =
          node.parent() < 0
              ? 0
              : level[node.parent()] + (branches[node.parent()] > 1 || node.parent() == 0 ? 1 : 0);
      int here = level[node.number()];
      boolean branch = node.parent() >= 0 && here > level[node.parent()];
      String indent = here == 0 ? "" : "  ".repeat(Math.min(here - 1, 12)) + (branch ? "└ " : "  ");
      String object =
          node.type().equals("java.lang.Class") && !node.label().isEmpty()
              ? node.label()
              : node.type() + (node.label().isEmpty() ? "" : " " + node.label());
      table.row(
          node.leadsTo(),
          new Table.Cell(
              node.members() == 0 ? "" : Format.count(node.members()),
              Long.toString(node.members())),
          indent + node.via() + " → " + object,
          node.objects(),
          node.id());
      table.own(node.own());
    }
    view.heading("All ways merged").table(table);
    if (ways.otherNodes() > 0) {
      view.line("And " + Format.count(ways.otherNodes()) + " smaller branches.");
    }
  }

  private static String sample(WhyAnswer answer) {
    String fit = answer.objects() == 1 ? " fits " : " fit ";
    String text = Format.objects(answer.objects()) + fit + answer.subject();
    if (answer.looked() < answer.objects()) {
      text += "; " + Format.count(answer.looked()) + " evenly spaced ones were followed";
    }
    if (answer.unretained() > 0) {
      text += "; " + Format.count(answer.unretained()) + " of these nothing keeps";
    }
    return text + ".";
  }

  private void dominators(View view, WhyAnswer answer) {
    if (answer.dominators().isEmpty()) {
      return;
    }
    view.heading("Every path to it runs through each of these: removing one frees it");
    Table table = new Table().number("retained").text("id").longText("object").longText("held by");
    for (ObjectRow row : answer.dominators()) {
      table.row(
          format().cell(row.retainedBytes()), row.id(), KeepersCommand.name(row), row.heldBy());
    }
    view.table(table);
  }

  private Table steps(List<Step> steps) {
    Table table =
        new Table().longText("reference").longText("object").text("id").number("retained");
    int level = 0;
    for (Step step : steps) {
      String object =
          step.type().equals("java.lang.Class")
              ? step.label()
              : step.type() + (step.label().isEmpty() ? "" : " " + step.label());
      table.row(
          Table.Cell.below(level, level == 0 ? GrowthViews.begin(step) : step.via()),
          object
              + (step.repeats() > 1 ? " (× " + Format.count(step.repeats()) + " in a chain)" : ""),
          step.id(),
          format().cell(step.retainedBytes()));
      level++;
    }
    return table;
  }
}
