package lipsanon.format.hprof;

import java.util.EnumSet;
import java.util.Set;
import lipsanon.index.TypeInfo;

/** Tells the classes of the JDK from others by their names. */
final class JdkNames {
  private static final String[] PREFIXES = {
    "java.",
    "javax.",
    "jdk.",
    "sun.",
    "com.sun.",
    "netscape.javascript.",
    "org.ietf.jgss.",
    "org.jcp.xml.dsig.internal.",
    "org.w3c.dom.",
    "org.xml.sax."
  };

  private static final String[] OBSERVERS = {
    "sun.rmi.",
    "com.sun.jmx.remote.",
    "javax.management.remote.",
    "sun.management.jmxremote.",
    "jdk.internal.agent.",
    "sun.tools.attach."
  };

  /** Of languages with modules of their own. */
  private static final Set<String> MODULES = Set.of("clojure.lang.Namespace", "clojure.lang.Var");

  private static final String[] LANGUAGES = {
    "clojure.", "compile__stub.", "groovy.", "kotlin.", "org.codehaus.groovy.", "scala."
  };

  private static final Set<String> TEXTS =
      Set.of("java.lang.String", "java.lang.StringBuilder", "java.lang.StringBuffer");

  private static final Set<String> BOXES =
      Set.of(
          "java.lang.Integer",
          "java.lang.Long",
          "java.lang.Short",
          "java.lang.Byte",
          "java.lang.Character",
          "java.lang.Boolean",
          "java.lang.Double",
          "java.lang.Float");

  /** Of {@code java.util} what is no collection but something by itself. */
  private static final Set<String> THING_PACKAGES =
      Set.of(
          "java.util.jar.",
          "java.util.logging.",
          "java.util.prefs.",
          "java.util.regex.",
          "java.util.zip.");

  private static final Set<String> THINGS =
      Set.of(
          "java.util.Currency",
          "java.util.Date",
          "java.util.Formatter",
          "java.util.GregorianCalendar",
          "java.util.Locale",
          "java.util.Random",
          "java.util.Scanner",
          "java.util.SimpleTimeZone",
          "java.util.Timer",
          "java.util.UUID");

  private JdkNames() {}

  /** What a class's name tells of it. */
  static Set<TypeInfo.Trait> traits(String name) {
    Set<TypeInfo.Trait> traits = EnumSet.noneOf(TypeInfo.Trait.class);
    if (name.endsWith("[]")) {
      traits.add(TypeInfo.Trait.ARRAY);
    }
    if (isLibrary(name)) {
      traits.add(TypeInfo.Trait.LIBRARY);
    }
    if (isObserver(name)) {
      traits.add(TypeInfo.Trait.OBSERVER);
    }
    if (isPassage(name)) {
      traits.add(TypeInfo.Trait.PASSAGE);
    }
    if (name.equals("java.lang.Class")) {
      traits.add(TypeInfo.Trait.PLAIN);
    }
    if (MODULES.contains(name)) {
      traits.add(TypeInfo.Trait.MODULE);
    }
    addKind(name, traits);
    return traits;
  }

  /** What sort of thing its objects are. */
  private static void addKind(String name, Set<TypeInfo.Trait> traits) {
    if (TEXTS.contains(name)) {
      traits.add(TypeInfo.Trait.TEXT);
    } else if (BOXES.contains(name)) {
      traits.add(TypeInfo.Trait.BOXED);
    } else if (name.startsWith("java.util.") && !name.startsWith("java.util.logging.")) {
      traits.add(TypeInfo.Trait.COLLECTION);
    } else if (name.startsWith("java.lang.invoke.")
        || name.startsWith("java.lang.reflect.")
        || name.startsWith("jdk.internal.reflect.")
        || name.equals("java.lang.Class")
        || name.contains("$$Lambda")) {
      traits.add(TypeInfo.Trait.CODE);
    }
  }

  /** Whether a class is of remote management, by which captures are asked for. */
  static boolean isObserver(String name) {
    return begins(name, OBSERVERS);
  }

  static boolean isLibrary(String name) {
    if (name.indexOf('.') < 0) {
      // primitive arrays and what has no name; classes without a package are somebody's own
      return name.endsWith("[]") && isPrimitive(name) || name.startsWith("(");
    }
    return begins(name, PREFIXES);
  }

  /** Whether a class is of the library of a language that is not Java. */
  static boolean isOfLanguage(String name) {
    return begins(name, LANGUAGES);
  }

  /** Whether a name begins with one of some prefixes. */
  static boolean begins(String name, String[] prefixes) {
    for (String prefix : prefixes) {
      if (name.startsWith(prefix)) {
        return true;
      }
    }
    return false;
  }

  /** Whether its objects are entries, links or tables of the JDK's collections. */
  static boolean isPassage(String name) {
    if (!isLibrary(name)) {
      return false;
    }
    if (name.contains("$") || name.endsWith("[]")) {
      return true;
    }
    return name.startsWith("java.util.")
        && !THINGS.contains(name)
        && THING_PACKAGES.stream().noneMatch(name::startsWith);
  }

  private static boolean isPrimitive(String name) {
    return switch (name.substring(0, name.indexOf('['))) {
      case "boolean", "char", "float", "double", "byte", "short", "int", "long" -> true;
      default -> false;
    };
  }
}
