package lipsanon.index;

import java.util.Set;

/** Whose a package is, by the first parts of its name. */
public final class Packages {
  /** Under these first two parts live programs that have nothing in common. */
  private static final Set<String> SHARED =
      Set.of(
          "com.github",
          "com.gitlab",
          "com.google",
          "com.googlecode",
          "io.github",
          "io.gitlab",
          "net.sourceforge",
          "org.apache",
          "org.eclipse");

  private Packages() {}

  /**
   * The first two parts of a class's package, or three where many share two.
   *
   * @return "" for a class without a package
   */
  public static String stem(String type) {
    int end = type.lastIndexOf('.');
    if (end < 0) {
      return "";
    }
    int second = type.indexOf('.', type.indexOf('.') + 1);
    String stem = type.substring(0, second < 0 ? end : second);
    int third = second < 0 ? -1 : type.indexOf('.', second + 1);
    return third >= 0 && SHARED.contains(stem) ? type.substring(0, third) : stem;
  }
}
