package lipsanon.index;

import java.io.IOException;
import java.util.List;
import lipsanon.array.IntArray;
import lipsanon.array.LongArray;
import lipsanon.graph.ObjectGraph;

/**
 * What a format reader makes of a snapshot file: all that an index is built from. Above this point
 * nothing depends on the runtime. The arrays belong to the index builder from here on.
 *
 * @param format key of the format, by which its reader is found again
 * @param graph the references
 * @param shallow by node: the shallow size in units of {@code unitBytes}, unsigned
 * @param unitBytes bytes of a unit
 * @param idStyle how identifiers are written
 * @param ids feeds the identifiers of the nodes in order
 * @param positions by node: where its record stands in the file, plus one
 * @param types all types
 * @param roots all roots, in the order of the snapshot, those that are locals of a thread included
 * @param facts what is known of the snapshot as a whole
 * @param detail what the reader needs to show single objects, in a form of its own
 * @param extras columns that only the reader understands
 */
public record SnapshotContent(
    String format,
    ObjectGraph graph,
    IntArray shallow,
    int unitBytes,
    IdStyle idStyle,
    Feed ids,
    LongArray positions,
    List<TypeInfo> types,
    List<RootInfo> roots,
    SnapshotFacts facts,
    byte[] detail,
    List<Extra> extras) {

  /**
   * A column of the reader's own, which {@link Snapshot#extra} gives back.
   *
   * @param name small letters only
   * @param count number of values
   * @param values tells them
   */
  public record Extra(String name, long count, Feed values) {}

  /** Tells a sequence of values. */
  public interface Feed {
    /** Feeds the values of 0, 1, 2 and so on. */
    void feed(Sink sink) throws IOException;
  }

  /** Hears a sequence of values. */
  public interface Sink {
    /** The next one. */
    void value(long value) throws IOException;

    /** The next ones: the first {@code count} of an array, which is good until the call ends. */
    default void values(long[] values, int count) throws IOException {
      for (int i = 0; i < count; i++) {
        value(values[i]);
      }
    }
  }
}
