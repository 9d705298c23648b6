package lipsanon.format.light;

/**
 * The format of a watched heap's series: JSON Lines in UTF-8, written while it is watched; a last
 * line that was cut off is no error.
 *
 * <pre>
 * File  --> Head ( Heap | Types | Mark )*
 * Head  --> {"lipsanon":"heap series","version":1,"runtime":R,"program":P,"process":ID,
 *            "startedAtMillis":T}
 * Heap  --> {"atMillis":T,"usedBytes":N,"committedBytes":N,"maxBytes":N,"collections":N,
 *            "pauseMicros":N,"survivedBytes":N}                       (-1: not known)
 * Types --> {"atMillis":T,"costMillis":N,"live":B,"count":N,"shallowBytes":N,
 *            "types":[{"type":NAME,"count":N,"shallowBytes":N}*]}     (the largest 1,000)
 * Mark  --> {"atMillis":T,"mark":"baseline" | "collection" | "light snapshot" | "snapshot",
 *            "text":S}
 * </pre>
 *
 * T is milliseconds since the epoch. {@code survivedBytes} is what the last collection left where
 * the runtime tells it; the sums of live counts are the sounder series.
 */
public final class SeriesFormat {
  /** The value of the first key, by which a file is told. */
  public static final String KIND = "heap series";

  /** The newest version, and the only one. */
  public static final int VERSION = 1;

  /** Types that are kept of a count, the largest first. */
  public static final int MOST_TYPES = 1000;

  private SeriesFormat() {}

  /** Whether a file that begins with these bytes is one. */
  public static boolean matches(byte[] head) {
    String text = new String(head, java.nio.charset.StandardCharsets.UTF_8);
    return text.startsWith("{\"" + LightFormat.KEY + "\":\"" + KIND + "\"");
  }
}
