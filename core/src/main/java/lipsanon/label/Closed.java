package lipsanon.label;

import java.io.IOException;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import lipsanon.index.FieldValue;
import lipsanon.index.Snapshot;

/**
 * Objects that say of themselves that they are done with: a field that is true when they were
 * closed, disposed of or destroyed. What still holds such an object is worth a look.
 */
public final class Closed {
  /** Names of such fields, without leading underscores and {@code is}, in small letters. */
  public static final Set<String> NAMES =
      Set.of(
          "closed",
          "disposed",
          "destroyed",
          "terminated",
          "stopped",
          "shutdown",
          "released",
          "removed",
          "detached",
          "disconnected",
          "cancelled",
          "canceled",
          "ended",
          "departed");

  private static final int MOST_FIELDS = 64;

  private Closed() {}

  /** Whether a field is called so that it may say so. */
  public static boolean isName(String field) {
    return NAMES.contains(plain(field));
  }

  /** Whether an object says so. */
  public static boolean is(Snapshot snapshot, int node) throws IOException {
    return field(snapshot, node, NAMES) != null;
  }

  /**
   * The field by which an object says so.
   *
   * @param names names of fields, as {@link #NAMES}
   * @return null if it does not
   */
  public static String field(Snapshot snapshot, int node, Set<String> names) throws IOException {
    if (snapshot.types().get(snapshot.type(node)).array()) {
      return null;
    }
    List<FieldValue> fields = snapshot.objects().contents().fields(node, MOST_FIELDS);
    for (FieldValue field : fields) {
      if (names.contains(plain(field.via().name())) && isTrue(snapshot, field)) {
        return field.via().name();
      }
    }
    return null;
  }

  private static boolean isTrue(Snapshot snapshot, FieldValue field) throws IOException {
    if (field.target() < 0) {
      return field.value().equals("true");
    }
    return "true".equals(snapshot.objects().contents().text(field.target(), 5));
  }

  private static String plain(String name) {
    String bare = name.replaceAll("^[_#$]+", "").toLowerCase(Locale.ROOT);
    return bare.startsWith("is") && bare.length() > 4 ? bare.substring(2) : bare;
  }
}
