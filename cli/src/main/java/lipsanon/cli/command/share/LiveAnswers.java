package lipsanon.cli.command.share;

import java.io.IOException;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import lipsanon.cli.term.Format;
import lipsanon.index.Snapshot;
import lipsanon.label.Closed;
import lipsanon.label.ObjectRow;
import lipsanon.label.ObjectRows;
import lipsanon.label.Step;
import lipsanon.label.TypeFilter;
import lipsanon.question.KeepersAnswer;
import lipsanon.question.KeepersQuestion;
import lipsanon.question.ShowAnswer;
import lipsanon.question.ShowQuestion;
import lipsanon.question.SiftAnswer;
import lipsanon.question.SiftQuestion;
import lipsanon.question.WhyAnswer;
import lipsanon.question.WhyQuestion;
import lipsanon.select.Selections;

/** Answers to what a served page asks about single objects. One thread. */
final class LiveAnswers {
  /** The words of an address. */
  static final List<String> QUESTIONS = List.of("show", "why", "keepers", "refs");

  private static final int ROWS = 100;

  private final Snapshot snapshot;
  private final Format format;

  LiveAnswers(Snapshot snapshot, Format format) {
    this.snapshot = snapshot;
    this.format = format;
  }

  /** A table; the columns of numbers are told by their places. */
  record Rows(String title, List<String> columns, List<Integer> numbers, List<List<String>> rows) {}

  /** Sentences and tables, or what is wrong. */
  record Answer(String error, List<String> lines, List<Rows> tables) {}

  Answer ask(String what, String id) throws IOException {
    int node;
    try {
      node = Selections.object(snapshot, id);
    } catch (RuntimeException e) {
      return new Answer("There is no object " + id + " in this snapshot.", List.of(), List.of());
    }
    return switch (what) {
      case "why" -> why(node);
      case "keepers" -> keepers(node);
      case "refs" -> refs(node);
      default -> show(node);
    };
  }

  /** The largest objects of a type. */
  Answer ofType(String type) throws IOException {
    BitSet set = Selections.set(snapshot, Selections.types(snapshot, type));
    if (set.isEmpty()) {
      return new Answer("There is no object of this type.", List.of(), List.of());
    }
    SiftAnswer answer =
        SiftQuestion.ask(
            snapshot,
            set,
            new SiftQuestion.Options(type, false, SiftQuestion.Sort.RETAINED, 0, ROWS));
    return new Answer(
        "",
        List.of(
            Format.objects(answer.count())
                + ", retaining "
                + format.size(answer.retainedBytes())
                + " together."),
        List.of(largest(answer.objects())));
  }

  private Rows largest(List<ObjectRow> objects) {
    List<List<String>> rows = new ArrayList<>();
    for (ObjectRow row : objects) {
      rows.add(
          List.of(
              format.size(row.retainedBytes()),
              row.id(),
              row.type() + (row.label().isEmpty() ? "" : " " + row.label()),
              row.heldBy()));
    }
    return new Rows(
        "The largest", List.of("retained", "id", "object", "held by"), List.of(0), rows);
  }

  private Answer show(int node) throws IOException {
    ShowAnswer answer = ShowQuestion.ask(snapshot, node, ROWS);
    List<Rows> tables = new ArrayList<>();
    List<List<String>> fields = new ArrayList<>();
    for (ShowAnswer.Value value : answer.fields()) {
      fields.add(
          List.of(
              value.name(),
              value.type(),
              value.value(),
              value.target(),
              value.target().isEmpty() ? "" : format.size(value.retainedBytes())));
    }
    if (!answer.entries().isEmpty()) {
      List<List<String>> entries = new ArrayList<>();
      for (ShowAnswer.EntryRow row : answer.entries()) {
        entries.add(
            List.of(
                row.key() == null ? "" : row.key(), row.value(), row.id() == null ? "" : row.id()));
      }
      tables.add(new Rows("Contents", List.of("key", "value", "id"), List.of(), entries));
    }
    tables.add(
        new Rows(
            "Fields", List.of("name", "type", "value", "what", "retained"), List.of(4), fields));
    return new Answer("", List.of(said(new ObjectRows(snapshot).row(node))), tables);
  }

  private String said(ObjectRow row) {
    return row.type()
        + (row.label().isEmpty() ? "" : " " + row.label())
        + " "
        + row.id()
        + ": "
        + format.size(row.retainedBytes())
        + " retained, held by "
        + row.heldBy();
  }

  private Answer why(int node) throws IOException {
    WhyAnswer answer = WhyQuestion.ofObject(snapshot, node, false, Closed.NAMES);
    List<String> lines = new ArrayList<>(answer.weakly());
    List<Rows> tables = new ArrayList<>();
    for (WhyAnswer.Path path : answer.paths()) {
      List<List<String>> rows = new ArrayList<>();
      for (Step step : path.steps()) {
        rows.add(
            List.of(
                step.via(),
                step.type() + (step.label().isEmpty() ? "" : " " + step.label()),
                step.id(),
                format.size(step.retainedBytes())));
      }
      tables.add(
          new Rows(
              "The nearest path from a root",
              List.of("reference", "object", "id", "retained"),
              List.of(3),
              rows));
    }
    if (answer.paths().isEmpty()) {
      lines.add("Nothing keeps it: it goes with the next collection.");
    }
    return new Answer("", lines, tables);
  }

  private Answer keepers(int node) throws IOException {
    KeepersAnswer answer = KeepersQuestion.ask(snapshot, node, TypeFilter.ALL, ROWS);
    return new Answer(
        "",
        List.of(
            Format.objects(answer.children())
                + " directly below it, retaining "
                + format.size(answer.childrenRetainedBytes())
                + "."),
        List.of(largest(answer.keepers())));
  }

  private Answer refs(int node) throws IOException {
    ShowAnswer answer = ShowQuestion.ask(snapshot, node, ROWS);
    List<List<String>> rows = new ArrayList<>();
    for (ShowAnswer.ReferenceRow row : answer.referencesIn()) {
      rows.add(
          List.of(
              format.size(row.retainedBytes()),
              row.id(),
              row.type() + (row.label().isEmpty() ? "" : " " + row.label()),
              row.via(),
              row.kind()));
    }
    return new Answer(
        "",
        List.of(
            Format.objects(answer.referencesInTotal())
                + (answer.referencesInTotal() == 1 ? " refers to it." : " refer to it.")),
        List.of(new Rows("", List.of("retained", "id", "object", "by", "kind"), List.of(0), rows)));
  }
}
