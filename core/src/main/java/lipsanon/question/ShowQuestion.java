package lipsanon.question;

import java.io.IOException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import lipsanon.array.IntList;
import lipsanon.index.FieldValue;
import lipsanon.index.ObjectReader;
import lipsanon.index.Reference;
import lipsanon.index.Snapshot;
import lipsanon.label.Labels;
import lipsanon.label.ObjectRows;
import lipsanon.label.SnapshotSummary;
import lipsanon.origin.OriginsQuestion;

/** Everything about one object. */
public final class ShowQuestion {
  private static final int TEXT = 2000;

  /** References that are looked at to find the largest; more are only counted. */
  private static final int LOOKED_AT = 100_000;

  private final Snapshot snapshot;
  private final int limit;

  private ShowQuestion(Snapshot snapshot, int limit) {
    this.snapshot = snapshot;
    this.limit = limit;
  }

  /**
   * Answers.
   *
   * @param limit rows at most in each list
   */
  public static ShowAnswer ask(Snapshot snapshot, int node, int limit) throws IOException {
    return new ShowQuestion(snapshot, limit).answer(node);
  }

  private ShowAnswer answer(int node) throws IOException {
    ObjectRows rows = new ObjectRows(snapshot);
    ObjectReader objects = snapshot.objects();
    ObjectReader.Entries entries = objects.entries(node, limit);
    List<Reference> out = new ArrayList<>();
    long[] outTotal = new long[1];
    objects.references(
        node,
        reference -> {
          outTotal[0]++;
          if (out.size() < LOOKED_AT) {
            out.add(reference);
          }
        });
    IntList in = snapshot.inbound(node);
    int dominator = snapshot.dominator(node);
    String text = objects.isString(node) ? objects.text(node, TEXT) : null;
    return new ShowAnswer(
        SnapshotSummary.of(snapshot),
        rows.row(node),
        snapshot.strength(node).name().toLowerCase(Locale.ROOT),
        snapshot.depth(node),
        dominator < 0 ? null : rows.row(dominator),
        text,
        objects.length(node),
        OriginsQuestion.stack(snapshot, node),
        values(node),
        entries == null ? -1 : entries.size(),
        entries == null ? List.of() : entryRows(entries),
        inRows(node, in),
        in.size(),
        outRows(out),
        outTotal[0]);
  }

  private List<ShowAnswer.Value> values(int node) throws IOException {
    List<ShowAnswer.Value> values = new ArrayList<>();
    for (FieldValue field : snapshot.objects().fields(node, limit)) {
      boolean refers = field.target() >= 0;
      values.add(
          new ShowAnswer.Value(
              field.via().text(),
              field.type(),
              field.value(),
              refers ? words(field.target()) : "",
              refers ? snapshot.retainedBytes(field.target()) : 0));
    }
    return values;
  }

  private String words(int node) throws IOException {
    String label = Labels.of(snapshot, node);
    String type = snapshot.typeName(node);
    return label.isEmpty() ? type : type.equals("java.lang.Class") ? label : type + " " + label;
  }

  private List<ShowAnswer.EntryRow> entryRows(ObjectReader.Entries entries) throws IOException {
    List<ShowAnswer.EntryRow> rows = new ArrayList<>();
    for (ObjectReader.Entry entry : entries.entries()) {
      rows.add(
          new ShowAnswer.EntryRow(
              entry.key() < 0 ? entry.keyText() : words(entry.key()),
              entry.value() >= 0
                  ? words(entry.value())
                  : entry.valueText() == null ? "null" : entry.valueText(),
              entry.value() < 0 ? null : snapshot.id(entry.value())));
    }
    return rows;
  }

  private List<ShowAnswer.ReferenceRow> inRows(int node, IntList in) throws IOException {
    List<Integer> sources = new ArrayList<>();
    for (int i = 0; i < Math.min(in.size(), LOOKED_AT); i++) {
      sources.add(in.get(i));
    }
    sources.sort(Comparator.comparingLong(snapshot::retainedBytes).reversed());
    List<ShowAnswer.ReferenceRow> rows = new ArrayList<>();
    for (int source : sources.subList(0, Math.min(limit, sources.size()))) {
      Reference[] found = new Reference[1];
      snapshot
          .objects()
          .references(
              source,
              reference -> {
                if (reference.target() == node && found[0] == null) {
                  found[0] = reference;
                }
              });
      if (found[0] != null) {
        rows.add(row(source, found[0]));
      }
    }
    return rows;
  }

  private List<ShowAnswer.ReferenceRow> outRows(List<Reference> out) throws IOException {
    out.sort(
        Comparator.comparingLong((Reference r) -> snapshot.retainedBytes(r.target())).reversed());
    List<ShowAnswer.ReferenceRow> rows = new ArrayList<>();
    for (Reference reference : out.subList(0, Math.min(limit, out.size()))) {
      rows.add(row(reference.target(), reference));
    }
    return rows;
  }

  private ShowAnswer.ReferenceRow row(int other, Reference reference) throws IOException {
    return new ShowAnswer.ReferenceRow(
        snapshot.id(other),
        snapshot.typeName(other),
        Labels.of(snapshot, other),
        reference.via().text(),
        reference.kind().name().toLowerCase(Locale.ROOT),
        snapshot.retainedBytes(other));
  }
}
