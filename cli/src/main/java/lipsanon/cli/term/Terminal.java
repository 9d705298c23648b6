package lipsanon.cli.term;

import java.nio.charset.Charset;
import java.util.Map;

/**
 * Where output goes.
 *
 * @param width columns
 * @param color whether to colour
 * @param fits whether texts must fit the width: what goes to a file or another program stays whole
 * @param unicode whether the encoding has more than ASCII
 * @param progress whether progress may be drawn on the error stream
 * @param command how the user calls this program
 */
public record Terminal(
    int width, boolean color, boolean fits, boolean unicode, boolean progress, String command) {
  private static final int DEFAULT_WIDTH = 120;
  private static final int NARROWEST = 40;

  /** From the environment that the launcher sets up. */
  public static Terminal of(Map<String, String> environment) {
    boolean out = "1".equals(environment.get("LIPSANON_OUT_TERMINAL"));
    boolean err = "1".equals(environment.get("LIPSANON_ERR_TERMINAL"));
    boolean dumb = environment.getOrDefault("TERM", "").equals("dumb");
    boolean color = out && !dumb && environment.getOrDefault("NO_COLOR", "").isEmpty();
    Charset charset = Charset.forName(System.getProperty("native.encoding", "UTF-8"));
    // the launcher sets an encoding for file names where the locale has none: texts stay ASCII
    boolean ascii = "1".equals(environment.get("LIPSANON_ASCII"));
    boolean unicode = !ascii && charset.newEncoder().canEncode((char) 0x2026);
    String command = environment.getOrDefault("LIPSANON_COMMAND", "lipsanon");
    return new Terminal(width(environment), color, out, unicode, err && !dumb, command);
  }

  private static int width(Map<String, String> environment) {
    try {
      int columns = Integer.parseInt(environment.getOrDefault("COLUMNS", ""));
      return columns <= 0 ? DEFAULT_WIDTH : Math.max(NARROWEST, columns);
    } catch (NumberFormatException e) {
      return DEFAULT_WIDTH;
    }
  }
}
