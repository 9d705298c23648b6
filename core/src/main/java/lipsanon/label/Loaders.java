package lipsanon.label;

import lipsanon.index.Snapshot;
import lipsanon.index.Via;

/**
 * Names class loaders of the JVM as holders: which of its tables has a class, or what goes with
 * one, says nothing, since a class stays for as long as its loader does.
 */
public final class Loaders {
  /** How the name of a loader as a holder begins. */
  public static final String LOADER = "class loader ";

  private Loaders() {}

  /** Whether a reference is one of those that every class loader has. */
  public static boolean isTable(Via via) {
    return via.kind() == Via.Kind.FIELD && via.owner().equals("java.lang.ClassLoader");
  }

  /** A loader in words. */
  public static String named(Snapshot snapshot, int loader) {
    return LOADER + Families.of(snapshot.typeName(loader));
  }
}
