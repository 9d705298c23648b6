package lipsanon.cli.command;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.FileVisitOption;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;

/** Lines of the user's source, by the names that a runtime has for its scripts. */
public final class SourceLines {
  private static final int DEEPEST = 12;
  private static final int AROUND = 2;
  private static final int LONGEST = 160;

  private final List<Path> files = new ArrayList<>();

  public SourceLines(Path folder) throws IOException {
    try (Stream<Path> all = Files.walk(folder, DEEPEST, new FileVisitOption[0])) {
      all.filter(file -> !file.toString().contains("/node_modules/"))
          .filter(Files::isRegularFile)
          .forEach(files::add);
    } catch (java.io.UncheckedIOException e) {
      throw e.getCause();
    }
  }

  /** A line with those around it, numbered; empty if the file is not there. */
  public List<String> around(String script, int line) throws IOException {
    Path file = find(script);
    if (file == null || line < 1) {
      return List.of();
    }
    List<String> lines = Files.readString(file, StandardCharsets.ISO_8859_1).lines().toList();
    List<String> shown = new ArrayList<>();
    for (int n = Math.max(1, line - AROUND); n <= Math.min(lines.size(), line + AROUND); n++) {
      String text =
          new String(
              lines.get(n - 1).getBytes(StandardCharsets.ISO_8859_1), StandardCharsets.UTF_8);
      String cut = text.length() > LONGEST ? text.substring(0, LONGEST) + "…" : text;
      shown.add(String.format("%s %5d  %s", n == line ? ">" : "|", n, cut.replace('\t', ' ')));
    }
    return shown;
  }

  /** The file that has most of its path in common with the script, from the end. */
  private Path find(String script) {
    String[] wanted = script.replaceAll("[?#].*", "").split("/");
    Path best = null;
    int most = 0;
    for (Path file : files) {
      int same = 0;
      while (same < wanted.length
          && same < file.getNameCount()
          && wanted[wanted.length - 1 - same].equals(
              file.getName(file.getNameCount() - 1 - same).toString())) {
        same++;
      }
      if (same > most) {
        most = same;
        best = file;
      }
    }
    return best;
  }
}
