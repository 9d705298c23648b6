package lipsanon.format.hprof;

import java.util.HashMap;
import java.util.HashSet;
import java.util.Map;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import lipsanon.index.Packages;

/**
 * Tells the classes of the program itself from those of libraries that it brings along, by where
 * each was loaded from. Own are classes from folders, from the folder that a packed application
 * keeps its own in, and from the archive that holds the main class; and others that share a package
 * with these. A program that was started by a server or a launcher has its main class from there,
 * which says nothing.
 */
final class CodePlaces {
  /** Archives that hold a program with its libraries keep its own classes in such folders. */
  private static final String[] OWN_FOLDERS = {"BOOT-INF/classes", "WEB-INF/classes"};

  private static final Pattern ARCHIVE = Pattern.compile("\\.(jar|war|ear|zip)\\b");

  /** A launcher that lies here has the program's own archives in a folder "app" beside "lib". */
  private static final Pattern LAUNCHER_FOLDER = Pattern.compile("^(.*/)lib/boot/[^/]*\\.jar.*$");

  /** Main classes that start what others wrote. */
  private static final String[] LAUNCHERS = {
    "com.ibm.ws.kernel.",
    "com.intellij.rt.",
    "com.sun.enterprise.",
    "fish.payara.",
    "io.quarkus.bootstrap.",
    "io.vertx.core.Launcher",
    "org.apache.catalina.startup.",
    "org.apache.felix.main.",
    "org.apache.flink.",
    "org.apache.hadoop.util.",
    "org.apache.karaf.main.",
    "org.apache.maven.surefire.",
    "org.apache.spark.deploy.",
    "org.apache.spark.executor.",
    "org.codehaus.plexus.classworlds.",
    "org.eclipse.equinox.launcher.",
    "org.eclipse.jetty.start.",
    "org.gradle.",
    "org.jboss.modules.",
    "org.junit.platform.console.",
    "org.openjdk.jmh.",
    "org.springframework.boot.loader.",
    "play.core.server.",
    "weblogic.",
    "worker.org.gradle."
  };

  private final String[] names;
  private final String[] locations;
  private final int main;
  private final Map<String, Integer> byName = new HashMap<>();
  private final Set<String> ownStems = new HashSet<>();

  /** The folder with the program's own archives, or "". */
  private final String appFolder;

  private final boolean packed;

  /**
   * Of all types.
   *
   * @param locations where each was loaded from, as the path of a URL: "" nothing is known; null
   *     for types that are not asked about: the runtime's, and arrays
   * @param main the type that the program was started with; -1 unknown
   */
  CodePlaces(String[] names, String[] locations, int main) {
    this.names = names;
    this.locations = locations;
    boolean anyPacked = false;
    for (int t = 0; t < names.length; t++) {
      byName.putIfAbsent(names[t], t);
      anyPacked |= locations[t] != null && contains(locations[t], OWN_FOLDERS);
    }
    packed = anyPacked;
    boolean known = main >= 0 && locations[main] != null;
    Matcher boot = LAUNCHER_FOLDER.matcher(known ? locations[main] : "");
    appFolder = boot.matches() ? boot.group(1) + "app/" : "";
    this.main = known && !packed && !JdkNames.begins(names[main], LAUNCHERS) ? main : -1;
  }

  /** By type: whether it is of a library that the program brings along. */
  boolean[] foreign() {
    for (int t = 0; t < names.length; t++) {
      if (locations[t] != null && isOwnFolder(locations[t])) {
        ownStems.add(Packages.stem(names[t]));
      }
    }
    if (main >= 0) {
      ownStems.add(Packages.stem(names[main]));
    }
    boolean[] foreign = new boolean[names.length];
    Set<String> foreignStems = new HashSet<>();
    boolean anyOwn = false;
    for (int t = 0; t < names.length; t++) {
      if (locations[t] != null && isForeign(t)) {
        foreign[t] = true;
        foreignStems.add(Packages.stem(names[t]));
      } else {
        anyOwn |= locations[t] != null && isPlaced(locations[t]);
      }
    }
    if (!anyOwn) {
      return unknown();
    }
    inherit(foreign, foreignStems);
    return foreign;
  }

  /**
   * Nothing is known of what is the program's own: it is what is of no library that everybody has.
   * If that is nothing, no difference is made.
   */
  private boolean[] unknown() {
    boolean[] foreign = new boolean[names.length];
    boolean anyOwn = false;
    for (int t = 0; t < names.length; t++) {
      foreign[t] = KnownLibraries.has(names[t]);
      anyOwn |= !foreign[t] && locations[t] != null && isPlaced(locations[t]);
    }
    return anyOwn ? foreign : new boolean[names.length];
  }

  private boolean isForeign(int t) {
    String location = locations[t];
    if (isOwnFolder(location) || !isPlaced(location)) {
      // what was compiled while the program ran is nowhere
      return false;
    }
    String stem = Packages.stem(names[t]);
    boolean sameArchive = main >= 0 && location.equals(locations[main]);
    // an archive may hold its libraries unpacked beside the program
    boolean mainsOwn =
        sameArchive
            && (Packages.stem(names[main]).isEmpty() || Packages.stem(names[main]).equals(stem));
    return !mainsOwn && !ownStems.contains(stem);
  }

  private static boolean isPlaced(String location) {
    return location.endsWith("/") || ARCHIVE.matcher(location).find();
  }

  /** Classes that were made at run time, without a place of their own, and arrays. */
  private void inherit(boolean[] foreign, Set<String> foreignStems) {
    for (int t = 0; t < foreign.length; t++) {
      int made = names[t].indexOf("$$");
      Integer host = made > 0 ? byName.get(names[t].substring(0, made)) : null;
      boolean nowhere = locations[t] != null && !isPlaced(locations[t]);
      if (host != null) {
        foreign[t] = foreign[host];
      } else if (nowhere && foreignStems.contains(Packages.stem(names[t]))) {
        foreign[t] = !ownStems.contains(Packages.stem(names[t]));
      }
    }
    for (int t = 0; t < foreign.length; t++) {
      int brackets = names[t].indexOf("[]");
      Integer element = brackets > 0 ? byName.get(names[t].substring(0, brackets)) : null;
      if (element != null) {
        foreign[t] = foreign[element];
      }
    }
  }

  private boolean isOwnFolder(String location) {
    if (contains(location, OWN_FOLDERS) || !appFolder.isEmpty() && location.startsWith(appFolder)) {
      return true;
    }
    // beside what is packed so, a folder holds what starts it
    boolean archive = location.endsWith(".jar!/") || location.endsWith(".war!/");
    return !packed && location.endsWith("/") && !archive;
  }

  private static boolean contains(String location, String[] folders) {
    for (String folder : folders) {
      if (location.contains(folder)) {
        return true;
      }
    }
    return false;
  }
}
