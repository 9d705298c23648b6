package lipsanon.cli.command;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import lipsanon.change.TypeTable;
import lipsanon.cli.UsageException;
import lipsanon.index.Snapshot;
import lipsanon.label.TypeFilter;
import lipsanon.live.LightSnapshot;
import lipsanon.snapshot.Snapshots;

/** Series in which light snapshots are, alone or among whole ones: compared by their types. */
public final class TypeTables {
  private TypeTables() {}

  /** Reads all; in time order where all tell their time. */
  public static List<TypeTable> read(SnapshotCommand command, List<Path> files) throws Exception {
    TypeFilter mine = new TypeFilter(null, command.minePackages(), false);
    List<TypeTable> tables = new ArrayList<>();
    for (Path file : files) {
      LightSnapshot light = Snapshots.light(file);
      if (light != null) {
        tables.add(TypeTable.of(file.toString(), light, mine));
      } else {
        try (Snapshot snapshot = command.open(file)) {
          tables.add(TypeTable.of(snapshot, mine));
        }
      }
    }
    check(tables);
    if (tables.stream().allMatch(table -> table.takenAtMillis() > 0)) {
      tables.sort(Comparator.comparingLong(TypeTable::takenAtMillis));
    }
    return TypeTable.aligned(tables);
  }

  private static void check(List<TypeTable> tables) {
    TypeTable first = tables.get(0);
    Set<String> files = new HashSet<>();
    for (TypeTable table : tables) {
      if (!files.add(table.summary().file())) {
        throw new UsageException(
            table.summary().file() + " is given twice: a comparison takes different snapshots");
      }
      if (!kind(table).equals(kind(first))) {
        throw new UsageException(
            first.summary().file()
                + " is of "
                + first.summary().runtime()
                + " and "
                + table.summary().file()
                + " of "
                + table.summary().runtime()
                + ": snapshots of different runtimes cannot be compared");
      }
    }
  }

  /** Whole snapshots say more of their runtime than light ones. */
  private static String kind(TypeTable table) {
    return table.summary().runtime().split("[ ./]")[0].replace("Node", "V8").replace("page", "V8");
  }
}
