package lipsanon.cli.command.look;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Locale;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicBoolean;
import lipsanon.cli.Context;
import lipsanon.cli.ExitCodes;
import lipsanon.cli.UsageException;
import lipsanon.cli.command.LimitOption;
import lipsanon.cli.command.SelectionArgument;
import lipsanon.cli.command.SnapshotCommand;
import lipsanon.cli.term.Format;
import lipsanon.cli.term.View;
import lipsanon.index.Snapshot;
import lipsanon.label.ObjectRow;
import lipsanon.question.SiftAnswer;
import lipsanon.question.SiftQuestion;
import lipsanon.select.NamedSelections;
import lipsanon.select.SelectionParser;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;

/** Lists the objects of a selection. */
@Command(
    name = "sift",
    description = "List the objects of a selection, the largest first, page by page.")
public final class SiftCommand extends SnapshotCommand {
  private static final int PAGE = 20;
  private static final int STREAMED = 1000;

  @Mixin private SelectionArgument selection;

  @Option(
      names = "--new-since",
      paramLabel = "EARLIER",
      description =
          "Only objects that this earlier snapshot of the same run does not have. Where"
              + " identifiers are stable only (V8).")
  private Path earlier;

  @Option(
      names = "--sort",
      paramLabel = "COLUMN",
      defaultValue = "retained",
      description = "retained, shallow, depth or order (in the snapshot); default: retained.")
  private SiftQuestion.Sort sort;

  @Option(
      names = "--columns",
      paramLabel = "NAMES",
      split = ",",
      description =
          "Which columns, in this order: retained, shallow, share, id, object, type, label, held,"
              + " depth, strength, loader.")
  private List<String> columns;

  @Option(
      names = "--page",
      paramLabel = "N",
      defaultValue = "1",
      description = "Which page (default: the first).")
  private int page;

  @Option(
      names = "--skip",
      paramLabel = "N",
      defaultValue = "0",
      description = "Leave out the first N.")
  private int skip;

  @Option(
      names = "--all",
      description =
          "Every object, as they are found, in the snapshot's order or in that of --sort.")
  private boolean all;

  @Option(
      names = "--as",
      paramLabel = "NAME",
      description = "Keep this selection under a name: $NAME selects it from now on.")
  private String name;

  @Mixin private LimitOption limit;

  /** The command. */
  public SiftCommand(Context context) {
    super(context);
  }

  @Override
  public Integer call() throws Exception {
    if (skip < 0) {
      throw new UsageException("--skip takes a whole number from 0 on");
    }
    if (page < 1) {
      throw new UsageException("--page takes a whole number from 1 on");
    }
    SiftColumns shown = new SiftColumns(columns);
    AtomicBoolean stopped = new AtomicBoolean();
    CountDownLatch done = new CountDownLatch(1);
    try (Snapshot snapshot = open(selection.file())) {
      Thread hook = new Thread(() -> await(stopped, done));
      Runtime.getRuntime().addShutdownHook(hook);
      try {
        answer(snapshot, shown, stopped);
      } finally {
        context.out().flush();
        done.countDown();
        removeHook(hook);
      }
    }
    return ExitCodes.FINE;
  }

  /** On Ctrl-C: the search ends, and what was found so far is printed before the process goes. */
  private static void await(AtomicBoolean stopped, CountDownLatch done) {
    stopped.set(true);
    try {
      done.await(10, TimeUnit.SECONDS);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }

  private void answer(Snapshot snapshot, SiftColumns shown, AtomicBoolean stopped)
      throws Exception {
    String text = text();
    BitSet nodes = select(snapshot, text, () -> stopped.get() || context.stop().getAsBoolean());
    boolean partial = stopped.get() || context.stop().getAsBoolean();
    if (name != null) {
      keep(snapshot, text);
    }
    if (all) {
      stream(snapshot, nodes, shown, stopped);
      return;
    }
    int rows = limit.or(PAGE);
    SiftQuestion.Options options =
        new SiftQuestion.Options(text, partial, sort, skip + (page - 1L) * rows, rows);
    SiftAnswer answer = SiftQuestion.ask(snapshot, nodes, options);
    print("sift", answer, () -> view(snapshot, answer, text, shown, rows));
  }

  private String text() {
    return earlier == null
        ? selection.text()
        : "(" + selection.text() + ") and new since " + SelectionParser.quoted(earlier.toString());
  }

  private void keep(Snapshot snapshot, String text) throws Exception {
    if (!NamedSelections.isName(name)) {
      throw new UsageException("--as takes a name of letters, digits, - and _");
    }
    NamedSelections.put(snapshot, name, text);
    context.err().println("lipsanon: kept as $" + name);
  }

  private void stream(Snapshot snapshot, BitSet nodes, SiftColumns shown, AtomicBoolean stopped)
      throws Exception {
    long[] order = SiftQuestion.order(snapshot, nodes, sort, Long.MAX_VALUE);
    SiftQuestion.Rows rows = SiftQuestion.rows(snapshot);
    for (int from = 0; from < order.length && !stopped.get(); from += STREAMED) {
      List<ObjectRow> some = new ArrayList<>();
      for (int i = from; i < Math.min(order.length, from + STREAMED); i++) {
        some.add(rows.row((int) order[i]));
      }
      printRows(some, shown.table(some, format(), id -> own(snapshot, id)), from == 0);
    }
  }

  private View view(
      Snapshot snapshot, SiftAnswer answer, String text, SiftColumns shown, int rows) {
    Format format = format();
    View view = new View();
    if (answer.partial()) {
      view.warning("stopped: this is what was found until then, not all.");
    }
    view.heading(
        Format.objects(answer.count())
            + ": "
            + answer.selection()
            + ", "
            + format.size(answer.shallowBytes())
            + " shallow");
    if (answer.count() > 0) {
      view.line(
          "If all of them went, "
              + format.size(answer.retainedBytes())
              + (answer.retainedCount() < 0 ? "" : " in " + Format.objects(answer.retainedCount()))
              + " would be freed: their exact retained size as one set."
              + (answer.unretained() > 0
                  ? " Nothing keeps " + Format.count(answer.unretained()) + " of them even now."
                  : ""));
    }
    if (answer.objects().isEmpty()) {
      return view.line(answer.count() == 0 ? "None." : "No more: that was the last page.");
    }
    view.table(shown.table(answer.objects(), format, id -> own(snapshot, id)));
    long next = answer.skipped() + answer.objects().size();
    String name = file(answer.snapshot());
    if (next < answer.count()) {
      view.line(
          "Shown: "
              + Format.count(answer.skipped() + 1)
              + " to "
              + Format.count(next)
              + ", by "
              + sort.name().toLowerCase(Locale.ROOT)
              + (sort == SiftQuestion.Sort.DEPTH || sort == SiftQuestion.Sort.ORDER
                  ? "."
                  : " size."));
      view.next(
          "lipsanon sift "
              + name
              + " "
              + quote(text)
              + (skip == 0 ? " --page " + (page + 1) : " --skip " + next)
              + limit.again(),
          "the next page");
    }
    view.next("lipsanon refs " + name + " " + quote(text), "how all of them are held");
    return view.next(
        "lipsanon why " + name + " " + answer.objects().get(0).id(), "what keeps the first alive");
  }
}
