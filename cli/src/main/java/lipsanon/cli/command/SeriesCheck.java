package lipsanon.cli.command;

import java.util.HashSet;
import java.util.List;
import java.util.Set;
import lipsanon.cli.UsageException;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;

/** Refuses to compare what cannot have grown into each other. */
public final class SeriesCheck {
  /** Of so few types of their own one in common is enough. */
  private static final int LEAST_TYPES = 3;

  private static final double LEAST_SHARED = 0.2;

  private SeriesCheck() {}

  /**
   * Checks a series.
   *
   * @throws UsageException if its snapshots are of different runtimes or programs, or twice the
   *     same
   */
  public static void check(List<Snapshot> series) {
    for (int i = 0; i < series.size(); i++) {
      for (int k = 0; k < i; k++) {
        check(series.get(k), series.get(i));
      }
    }
  }

  public static void check(Snapshot one, Snapshot other) {
    if (!one.facts().runtime().equals(other.facts().runtime())) {
      throw new UsageException(
          one.file()
              + " is of "
              + one.facts().runtime()
              + " and "
              + other.file()
              + " of "
              + other.facts().runtime()
              + ": snapshots of different runtimes cannot be compared");
    }
    if (one.identity().sameContents(other.identity())) {
      throw new UsageException(
          one.file().equals(other.file())
              ? one.file() + " is given twice: a comparison takes different snapshots"
              : one.file() + " and " + other.file() + " are the same snapshot");
    }
    Set<String> a = own(one);
    Set<String> b = own(other);
    int least = Math.min(a.size(), b.size());
    if (least > 0) {
      long shared = a.stream().filter(b::contains).count();
      if (shared == 0 || least >= LEAST_TYPES && shared < LEAST_SHARED * least) {
        throw new UsageException(
            one.file()
                + " and "
                + other.file()
                + " are of different programs: they share "
                + shared
                + " of "
                + least
                + " types of their own");
      }
    }
  }

  private static Set<String> own(Snapshot snapshot) {
    Set<String> names = new HashSet<>();
    for (TypeInfo type : snapshot.types()) {
      boolean generated = type.name().contains("$$");
      if (!type.library() && !type.foreign() && !type.array() && !generated) {
        names.add(type.name());
      }
    }
    return names;
  }
}
