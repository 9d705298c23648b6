package lipsanon.format.dotnet;

import java.util.List;
import lipsanon.index.PackedColumn;
import lipsanon.index.Snapshot;

/** The parts of a .NET heap by number: the generations, and what stands beside them. */
public final class HeapParts {
  /** Extra column: the part of each object. */
  public static final String COLUMN = "generation";

  /** Names by number. */
  public static final List<String> NAMES =
      List.of("generation 0", "generation 1", "generation 2", "large objects", "pinned", "frozen");

  /** Objects that are not moved. */
  public static final int PINNED = NAMES.indexOf("pinned");

  /** The last: literals and type objects, which never die. */
  public static final int FROZEN = NAMES.size() - 1;

  private HeapParts() {}

  /** The part that an object is in; "" where the snapshot does not tell. */
  public static String of(Snapshot snapshot, int node) {
    PackedColumn column = snapshot.extra(COLUMN);
    int number = column == null ? -1 : (int) column.get(node);
    return number < 0 || number >= NAMES.size() ? "" : NAMES.get(number);
  }
}
