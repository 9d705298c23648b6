package lipsanon.question;

import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import lipsanon.graph.Strength;
import lipsanon.index.Reference;
import lipsanon.index.Snapshot;
import lipsanon.io.Progress;

/** Streams all objects with their figures, and all references, so that others can check them. */
public final class ExportQuestion {
  private ExportQuestion() {}

  /** Hears the rows of a table. */
  public interface Rows {
    /** A row: strings, longs, or null where a figure means nothing. */
    void row(Object... values) throws IOException;
  }

  /** Column names of the objects' table. */
  public static final List<String> OBJECT_COLUMNS =
      List.of("id", "type", "shallowBytes", "retainedBytes", "dominator", "depth", "strength");

  /** Column names of the references' table. */
  public static final List<String> REFERENCE_COLUMNS = List.of("from", "to", "kind", "via");

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
    for (lipsanon.index.RootInfo root : snapshot.roots()) {
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
