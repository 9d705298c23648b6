package lipsanon.format.hprof;

import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Names of fields as the source has them, where the compiler of another language than Java has made
 * longer ones of them: Scala's for what is private but used from another class, Kotlin's for
 * properties that another object answers for, and for those that are changed atomically.
 */
final class FieldNames {
  /** The class that has declared it, with its package, before the name. */
  private static final Pattern EXPANDED =
      Pattern.compile(
          "[a-z][A-Za-z0-9_]*(?:\\$[A-Za-z0-9_]+)*\\$[A-Z][A-Za-z0-9_$]*?\\$\\$([A-Za-z0-9_$]+)");

  private static final String[] SUFFIXES = {"$delegate", "$volatile"};

  private FieldNames() {}

  /** A name as it was written. */
  static String written(String name) {
    if (name.indexOf('$') <= 0) {
      return name;
    }
    for (String suffix : SUFFIXES) {
      if (name.endsWith(suffix)) {
        return name.substring(0, name.length() - suffix.length());
      }
    }
    Matcher expanded = EXPANDED.matcher(name);
    return expanded.matches() ? expanded.group(1) : name;
  }
}
