package lipsanon.fleet;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Classes that the first task leaves to those after it. */
class ClassArchiveTest {
  @TempDir Path folder;

  private static List<Path> archives(Path folder) throws Exception {
    List<Path> archives = new ArrayList<>();
    for (Path entry : ChildTask.ownClassPath()) {
      archives.add(
          Files.isRegularFile(entry)
              ? entry
              : Archives.archive(entry, folder.resolve(archives.size() + ".jar")));
    }
    return archives;
  }

  private List<String> left() throws Exception {
    try (Stream<Path> files = Files.list(folder)) {
      return files.map(file -> file.getFileName().toString()).sorted().toList();
    }
  }

  @Test
  void oneProcessMakesItAndLaterOnesUseIt() throws Exception {
    Path jar = Files.createFile(folder.resolve("a.jar"));
    ClassArchive archive = ClassArchive.in(folder, List.of(jar));
    ClassArchive.Use failing = archive.begin();
    assertThat(failing.flags()).singleElement().asString().contains("ArchiveClassesAtExit=");
    // while it is being made others go without
    assertThat(archive.begin().flags()).isEmpty();
    failing.ended(false);
    ClassArchive.Use making = archive.begin();
    assertThat(making.flags()).isEqualTo(failing.flags());
    Files.writeString(Path.of(making.flags().get(0).replaceFirst(".*=", "")), "classes");
    making.ended(true);
    ClassArchive.Use using = archive.begin();
    assertThat(using.flags())
        .containsExactly("-XX:SharedArchiveFile=" + folder.resolve("classes.jsa"));
    using.ended(false);
    assertThat(left()).containsExactly("a.jar", "classes.jsa", "classes.making");
  }

  @Test
  void oneThatLeftNothingIsFollowedByAnother() throws Exception {
    ClassArchive archive = ClassArchive.in(folder, List.of());
    archive.begin().ended(true);
    assertThat(left()).isEmpty();
    assertThat(archive.begin().flags()).isNotEmpty();
  }

  @Test
  void withoutAFolderToWriteToThereIsNone() {
    ClassArchive archive = ClassArchive.in(folder.resolve("gone"), List.of());
    assertThat(archive.begin().flags()).isEmpty();
  }

  @Test
  void nothingIsMadeOfFolders() throws Exception {
    ClassArchive archive = ClassArchive.in(folder, List.of(folder));
    assertThat(archive.begin().flags()).isEmpty();
    assertThat(left()).isEmpty();
    assertThat(ClassArchive.NONE.begin().flags()).isEmpty();
  }

  @Test
  void rowsAreTheSame() throws Exception {
    Path file = TinyFleet.dump(folder.resolve("a.hprof"), 20, 10);
    Item item = new Item(file.toString(), LabelPattern.plain(file, Instant.EPOCH), 1);
    ChildTask plain =
        new ChildTask(archives(folder), 128L << 20, new byte[16], List.of("portmerrow"), 60_000);
    Path prepared = Files.createDirectory(folder.resolve("prepared"));
    ChildTask task = plain.preparedIn(prepared);
    String expected = rows(plain, item, file);
    assertThat(rows(task, item, file)).isEqualTo(expected).contains("portmerrow.VesselCall");
    assertThat(Files.size(prepared.resolve("classes.jsa"))).isGreaterThan(1 << 20);
    assertThat(rows(task, item, file)).isEqualTo(expected);
    // one that does not fit is passed over, and nothing of that is among the rows
    Files.write(prepared.resolve("classes.jsa"), new byte[1 << 20]);
    assertThat(rows(task, item, file)).isEqualTo(expected);
  }

  /** The rows but for the one that tells how long it took. */
  private String rows(ChildTask task, Item item, Path file) throws Exception {
    Path work = Files.createDirectories(folder.resolve("work"));
    String rows = new String(task.run(item, file, work), StandardCharsets.UTF_8);
    assertThat(rows).contains("\"status\":\"ok\"");
    return String.join("\n", rows.lines().filter(line -> !line.contains("\"status\":")).toList());
  }
}
