package lipsanon.cli.command.share;

import java.nio.file.Files;
import java.nio.file.Path;
import lipsanon.cli.Context;
import lipsanon.cli.ExitCodes;
import lipsanon.cli.UsageException;
import lipsanon.cli.command.Answering;
import lipsanon.cli.command.ScratchFolder;
import lipsanon.cli.settings.Settings;
import lipsanon.cli.term.Format;
import lipsanon.cli.term.TerminalProgress;
import lipsanon.cli.term.View;
import lipsanon.label.Closed;
import lipsanon.snapshot.Redaction;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** A copy without contents. */
@Command(
    name = "redact",
    description =
        "A copy of a snapshot without its contents, safe to hand over: the same objects, sizes and"
            + " references, but texts and values replaced.")
public final class RedactCommand extends Answering {
  @Parameters(index = "0", paramLabel = "ORIGINAL", description = "A heap snapshot.")
  private Path original;

  @Parameters(index = "1", paramLabel = "COPY", description = "Where the copy goes, or is.")
  private Path copy;

  @Option(
      names = "--keep-equality",
      description = "Equal contents stay equal: duplicates are still found in the copy.")
  private boolean keepEquality;

  @Option(
      names = "--check",
      description = "Copy nothing: look whether a text of the original is left in the copy.")
  private boolean check;

  @Option(names = "--force", description = "Overwrite a copy that is there.")
  private boolean force;

  /** The command. */
  public RedactCommand(Context context) {
    super(context);
  }

  /** The answer. */
  record Redacted(String original, String copy, long copyBytes, boolean keepEquality) {}

  /** The answer of a check; foundAt is a position in the copy, -1 if nothing was found. */
  record Checked(String original, String copy, long texts, boolean clean, long foundAt) {}

  @Override
  public Integer call() throws Exception {
    if (!Files.isRegularFile(original)) {
      throw new UsageException(original + ": is no file");
    }
    try (ScratchFolder scratch = ScratchFolder.of("redact")) {
      return check ? check(scratch.path()) : copy(scratch.path());
    }
  }

  private int copy(Path scratch) throws Exception {
    if (copy.toString().endsWith(".gz")) {
      throw new UsageException("the copy is not compressed: give it a name without .gz");
    }
    if (Files.exists(copy) && Files.isSameFile(original, copy)) {
      throw new UsageException("the copy must be another file than the original");
    }
    ExportTarget.check(copy, force);
    byte[] key = keepEquality ? Settings.hidingKey(context.environment()) : null;
    try (TerminalProgress progress = context.progress()) {
      Redaction.copy(original, copy, scratch, new Redaction.Options(key, Closed::isName), progress);
    }
    Redacted answer =
        new Redacted(original.toString(), copy.toString(), Files.size(copy), keepEquality);
    print("redact", answer, () -> view(answer));
    return ExitCodes.FINE;
  }

  private View view(Redacted answer) {
    View view = new View();
    view.line(
        answer.copy()
            + ": "
            + format().size(answer.copyBytes())
            + ", with the objects, sizes and references of "
            + answer.original()
            + " and none of its texts and values.");
    view.line(
        "Names stay: of types, fields, functions and source files"
            + (answer.keepEquality() ? "; equal contents are equal in the copy too." : "."));
    String names = quote(answer.original()) + " " + quote(answer.copy());
    view.next(
        "lipsanon redact --check " + names, "no text of the original is left: see for yourself");
    return view.next("lipsanon survey " + quote(answer.copy()), "what the other side will see");
  }

  private int check(Path scratch) throws Exception {
    if (!Files.isRegularFile(copy)) {
      throw new UsageException(copy + ": is no file");
    }
    Redaction.Check found;
    try (TerminalProgress progress = context.progress()) {
      found = Redaction.check(original, copy, scratch, Closed::isName, progress);
    }
    Checked answer =
        new Checked(
            original.toString(),
            copy.toString(),
            found.texts(),
            found.foundAt() < 0,
            found.foundAt());
    print(
        "redact",
        answer,
        () ->
            new View()
                .line(
                    answer.clean()
                        ? "None of the "
                            + Format.count(answer.texts())
                            + " texts of "
                            + answer.original()
                            + " (4 characters and more) stands in "
                            + answer.copy()
                            + ", names aside."
                        : answer.copy()
                            + " still holds a text of "
                            + answer.original()
                            + ", at byte "
                            + answer.foundAt()
                            + ": do not hand it over."));
    return answer.clean() ? ExitCodes.FINE : ExitCodes.CHECK_FAILED;
  }
}
