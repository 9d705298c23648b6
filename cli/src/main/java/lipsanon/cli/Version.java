package lipsanon.cli;

import java.io.IOException;
import java.io.InputStream;
import java.util.Properties;

/** Which version of the program this is. */
public final class Version {
  private Version() {}

  /** As {@code --version} prints it: the version, and the build where it was made from a commit. */
  public static String text() {
    Properties properties = new Properties();
    try (InputStream in = Version.class.getResourceAsStream("build.properties")) {
      if (in != null) {
        properties.load(in);
      }
    } catch (IOException e) {
      // the classes alone: an unknown version is told as such
    }
    String build = properties.getProperty("build", "");
    return "lipsanon "
        + properties.getProperty("version", "unknown")
        + (build.isEmpty() ? "" : " (build " + build + ")");
  }
}
