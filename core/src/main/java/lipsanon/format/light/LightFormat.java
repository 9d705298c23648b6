package lipsanon.format.light;

/**
 * The format of light snapshots: JSON Lines in UTF-8, so that any tool can read them.
 *
 * <pre>
 * File --> Head Type* End
 * Head --> {"lipsanon":"light snapshot","version":1,"runtime":R,"program":P,"process":ID,
 *           "takenAtMillis":T,"live":B}
 * Type --> {"type":NAME,"count":N,"shallowBytes":N}
 * End  --> {"types":N,"count":N,"shallowBytes":N}
 * </pre>
 *
 * T is milliseconds since the epoch; B tells whether garbage was collected before. Names are those
 * of whole snapshots. The last line has the number of the lines of types and the sums over them: a
 * file without it, or with other sums, was cut off or changed.
 */
public final class LightFormat {
  /** The value of the first key, by which a file is told. */
  public static final String KIND = "light snapshot";

  /** The newest version, and the only one. */
  public static final int VERSION = 1;

  static final String KEY = "lipsanon";

  private LightFormat() {}

  /** Whether a file that begins with these bytes is one. */
  public static boolean matches(byte[] head) {
    String text = new String(head, java.nio.charset.StandardCharsets.UTF_8);
    return text.startsWith("{\"" + KEY + "\":\"" + KIND + "\"");
  }
}
