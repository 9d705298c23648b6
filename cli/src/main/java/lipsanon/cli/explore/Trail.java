package lipsanon.cli.explore;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.ArrayList;
import java.util.List;

/** The questions asked of a snapshot, kept beside its index; and where in them the user stands. */
final class Trail {
  private static final int MOST = 2_000;

  private final Path file;
  private final List<String> steps = new ArrayList<>();
  private int at = -1;

  Trail(Path folder) throws IOException {
    this.file = folder.resolve("trail");
    if (Files.isRegularFile(file)) {
      List<String> lines = Files.readAllLines(file, StandardCharsets.UTF_8);
      steps.addAll(lines.subList(Math.max(0, lines.size() - MOST), lines.size()));
    }
    at = steps.size();
  }

  /** Notes a question. */
  void add(String line) throws IOException {
    if (steps.isEmpty() || !steps.get(steps.size() - 1).equals(line)) {
      steps.add(line);
      Files.writeString(
          file,
          line + "\n",
          StandardCharsets.UTF_8,
          StandardOpenOption.CREATE,
          StandardOpenOption.APPEND);
    }
    at = steps.size() - 1;
  }

  /** The question before the one that is shown, or null. */
  String back() {
    return at <= 0 ? null : steps.get(--at);
  }

  /** The question after it, or null. */
  String forward() {
    return at >= steps.size() - 1 ? null : steps.get(++at);
  }

  List<String> steps() {
    return List.copyOf(steps);
  }
}
