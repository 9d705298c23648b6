package lipsanon.format.v8;

import java.io.IOException;
import java.nio.file.FileVisitResult;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.SimpleFileVisitor;
import java.nio.file.attribute.BasicFileAttributes;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.regex.Pattern;
import lipsanon.io.UnsupportedInputException;

/** The scripts and source maps in a folder, to be found by the names of scripts that ran. */
final class BuiltScripts {
  private static final Pattern WANTED = Pattern.compile(".*\\.([cm]?js|map)");
  static final String MAP = ".map";
  private static final int MOST = 200_000;

  /** Packages are no part of what is built. */
  private static final String PACKAGES = "node_modules";

  private final Map<String, List<Path>> byName = new HashMap<>();
  private int count;

  private BuiltScripts() {}

  /**
   * Looks a folder through, folders in it included; links are not followed.
   *
   * @throws UnsupportedInputException if it is none
   */
  static BuiltScripts in(Path folder) throws IOException {
    if (!Files.isDirectory(folder)) {
      throw new UnsupportedInputException(
          folder.toString(), "is no folder: --source-maps names that of the built scripts");
    }
    BuiltScripts built = new BuiltScripts();
    Files.walkFileTree(
        folder.toAbsolutePath().normalize(),
        new SimpleFileVisitor<>() {
          @Override
          public FileVisitResult preVisitDirectory(Path at, BasicFileAttributes is) {
            boolean packages = at.endsWith(PACKAGES);
            return packages ? FileVisitResult.SKIP_SUBTREE : FileVisitResult.CONTINUE;
          }

          @Override
          public FileVisitResult visitFile(Path file, BasicFileAttributes is) {
            String name = file.getFileName().toString();
            if (is.isRegularFile() && WANTED.matcher(name).matches()) {
              built.byName.computeIfAbsent(name, key -> new ArrayList<>()).add(file);
              built.count++;
            }
            return built.count < MOST ? FileVisitResult.CONTINUE : FileVisitResult.TERMINATE;
          }

          @Override
          public FileVisitResult visitFileFailed(Path file, IOException e) {
            return FileVisitResult.CONTINUE;
          }
        });
    return built;
  }

  /** The script of that name, or null. */
  Path script(String name) {
    return like(name, "");
  }

  /** The map of the script of that name, or null. */
  Path map(String name) {
    return like(name, MAP);
  }

  /** Whether there is any map for a script of that name. */
  boolean hasMap(String name) {
    return !named(name, MAP).isEmpty();
  }

  private List<Path> named(String script, String ending) {
    String plain = plain(script);
    return byName.getOrDefault(plain.substring(plain.lastIndexOf('/') + 1) + ending, List.of());
  }

  private static String plain(String script) {
    return script.replaceFirst("[?#].*", "").replace('\\', '/');
  }

  /** The file whose path ends most like a script's; null if there is none, or more than one. */
  private Path like(String script, String ending) {
    String plain = plain(script);
    List<Path> files = named(script, ending);
    Path best = null;
    int most = 0;
    for (Path file : files) {
      String path = file.toString().replace('\\', '/');
      int alike = alike(plain, path.substring(0, path.length() - ending.length()));
      if (alike >= most) {
        best = alike > most ? file : null;
        most = alike;
      }
    }
    return best;
  }

  /** How many names of two paths are the same, from behind. */
  private static int alike(String a, String b) {
    String[] left = a.split("/");
    String[] right = b.split("/");
    int same = 0;
    while (same < Math.min(left.length, right.length)
        && left[left.length - 1 - same].equals(right[right.length - 1 - same])) {
      same++;
    }
    return same;
  }
}
