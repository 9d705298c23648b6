package lipsanon.question;

import java.io.IOException;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.concurrent.Callable;
import lipsanon.graph.Workers;
import lipsanon.index.ObjectReader;
import lipsanon.index.Snapshot;

/** A pass over many things of a snapshot in parts: each has a thread and a reader of its own. */
final class SideBySide {
  /** Below it a second reader costs more than it gains. */
  private static final int LEAST = 200_000;

  private SideBySide() {}

  /** The part from {@code from} to before {@code to}. */
  interface Range<T> {
    T of(ObjectReader objects, int from, int to) throws IOException;
  }

  /** One of several parts. */
  interface Part<T> {
    T of(ObjectReader objects, int part) throws IOException;
  }

  /** Into how many parts so many things are worth being cut. */
  static int parts(int count) {
    return count < LEAST ? 1 : Workers.threads();
  }

  /**
   * Runs ranges of so many things.
   *
   * @param align ranges begin at multiples of it
   * @return their results in order
   */
  static <T> List<T> ranges(Snapshot snapshot, int count, int align, Range<T> range)
      throws IOException {
    int parts = parts(count);
    return run(
        snapshot,
        parts,
        (objects, part) ->
            range.of(
                objects, edge(count, align, part, parts), edge(count, align, part + 1, parts)));
  }

  /** Runs so many parts; their results in order. */
  static <T> List<T> run(Snapshot snapshot, int parts, Part<T> part) throws IOException {
    if (parts == 1) {
      return List.of(part.of(snapshot.objects(), 0));
    }
    List<T> results = new ArrayList<>(Collections.nCopies(parts, null));
    List<Callable<Void>> works = new ArrayList<>();
    for (int p = 0; p < parts; p++) {
      int number = p;
      works.add(
          () -> {
            try (ObjectReader objects = snapshot.openReader()) {
              results.set(number, part.of(objects, number));
            }
            return null;
          });
    }
    try {
      Workers.all(works);
    } catch (IOException | RuntimeException e) {
      throw e;
    } catch (Exception e) {
      throw new IOException(e);
    }
    return results;
  }

  private static int edge(int count, int align, int part, int parts) {
    return part == parts ? count : (int) ((long) count * part / parts / align * align);
  }
}
