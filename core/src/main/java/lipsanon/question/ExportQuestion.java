package lipsanon.question;

import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import lipsanon.graph.Strength;
import lipsanon.index.Reference;
import lipsanon.index.RootInfo;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;
import lipsanon.io.Progress;
import lipsanon.label.TypeFilter;

/** Streams all objects with their figures, and all references, so that others can check them. */
public final class ExportQuestion {
  private ExportQuestion() {}

  /** Hears the rows of a table. */
  public interface Rows {
    /** A row: strings, longs, booleans, or null where a figure means nothing. */
    void row(Object... values) throws IOException;
  }

  /** Column names of the objects' table. */
  public static final List<String> OBJECT_COLUMNS =
      List.of("id", "type", "shallowBytes", "retainedBytes", "dominator", "depth", "strength");

  /** Column names of the types' table. */
  public static final List<String> TYPE_COLUMNS =
      List.of("type", "loader", "own", "count", "shallowBytes", "retainedBytes");

  /** Column names of the roots' table. */
  public static final List<String> ROOT_COLUMNS = List.of("id", "kind", "detail");

  /** Column names of the references' table. */
  public static final List<String> REFERENCE_COLUMNS = List.of("from", "to", "kind", "via");

  /** All types, those without objects included. */
  public static void types(Snapshot snapshot, TypeFilter mine, Rows rows) throws IOException {
    for (int t = 0; t < snapshot.types().size(); t++) {
      TypeInfo type = snapshot.types().get(t);
      rows.row(
          type.name(),
          type.loader(),
          mine.isMine(type),
          snapshot.counts(t).count(),
          snapshot.counts(t).shallowBytes(),
          snapshot.counts(t).retainedBytes());
    }
  }

  /** All roots; an object that is one in several ways has several rows. */
  public static void roots(Snapshot snapshot, Rows rows) throws IOException {
    for (RootInfo root : snapshot.roots()) {
      rows.row(snapshot.id(root.node()), root.kind(), root.detail());
    }
  }

  /** All objects; unretained ones have no retained size, dominator and depth. */
  public static void objects(Snapshot snapshot, Rows rows, Progress progress) throws IOException {
    progress.phase("writing objects", snapshot.objectCount());
    for (int n = 0; n < snapshot.objectCount(); n++) {
      Strength strength = snapshot.strength(n);
      boolean retained = strength != Strength.UNRETAINED;
      int dominator = retained ? snapshot.dominator(n) : -1;
      rows.row(
          snapshot.id(n),
          snapshot.typeName(n),
          snapshot.shallowBytes(n),
          retained ? (Object) snapshot.retainedBytes(n) : null,
          dominator < 0 ? null : snapshot.id(dominator),
          retained ? (Object) (long) snapshot.depth(n) : null,
          strength.name().toLowerCase(Locale.ROOT));
      if ((n & 0xfff) == 0) {
        progress.at(n);
      }
    }
  }

  /**
   * All references, parallel ones included, and the roots as references from an empty identifier.
   */
  public static void references(Snapshot snapshot, Rows rows, Progress progress)
      throws IOException {
    for (RootInfo root : snapshot.roots()) {
      if (root.thread() < 0) {
        rows.row(null, snapshot.id(root.node()), "root", root.kind());
      }
    }
    progress.phase("writing references", snapshot.objectCount());
    List<Reference> references = new ArrayList<>();
    for (int n = 0; n < snapshot.objectCount(); n++) {
      references.clear();
      snapshot.objects().references(n, references::add);
      String from = snapshot.id(n);
      for (Reference reference : references) {
        rows.row(
            from,
            snapshot.id(reference.target()),
            reference.kind().name().toLowerCase(Locale.ROOT),
            reference.via().text());
      }
      if ((n & 0xfff) == 0) {
        progress.at(n);
      }
    }
  }
}
