package lipsanon.fleet.spark;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.FileNotFoundException;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.util.ArrayList;
import java.util.List;
import org.apache.hadoop.conf.Configuration;
import org.apache.hadoop.fs.FSDataInputStream;
import org.apache.hadoop.fs.FileSystem;
import org.apache.hadoop.fs.FilterFileSystem;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** A folder becomes the same as tables elsewhere, step by step. */
class TablesCopyTest {
  private static final String DAY = "day=2026-11-20/service=office/";

  @TempDir Path folder;
  private Path tables;
  private Path here;
  private final List<String> opened = new ArrayList<>();

  @BeforeEach
  void folders() {
    tables = folder.resolve("tables");
    here = folder.resolve("here");
  }

  private void put(String path, String text) throws IOException {
    Path file = tables.resolve(path);
    Files.createDirectories(file.getParent());
    Files.writeString(file, text);
  }

  private String read(String path) throws IOException {
    return Files.readString(here.resolve(path));
  }

  /** A file system that notes what is opened, and may do something before. */
  private TablesCopy copy(Runnable before) throws IOException {
    org.apache.hadoop.fs.Path root = new org.apache.hadoop.fs.Path(tables.toUri());
    FileSystem local = root.getFileSystem(new Configuration());
    FileSystem noting =
        new FilterFileSystem(local) {
          @Override
          public FSDataInputStream open(org.apache.hadoop.fs.Path path) throws IOException {
            before.run();
            opened.add(path.getParent().getParent().getParent().getName());
            return super.open(path);
          }
        };
    return new TablesCopy(noting, root, here);
  }

  @Test
  void onlyWhatIsNewOrOtherIsCopied() throws Exception {
    put("types/" + DAY + "a.parquet", "one");
    put("snapshots/" + DAY + "a.parquet", "done");
    put("types/" + DAY + "_SUCCESS", "no table");
    put(".cluster-r1/types/" + DAY + "staged.parquet", "not yet");
    TablesCopy copy = copy(() -> {});
    assertThat(copy.run()).isEqualTo(2);
    assertThat(copy.all()).isEqualTo(2);
    assertThat(opened).as("what says that a task is done comes last").endsWith("snapshots");
    assertThat(read("types/" + DAY + "a.parquet")).isEqualTo("one");
    assertThat(read("snapshots/" + DAY + "a.parquet")).isEqualTo("done");
    assertThat(here.resolve("types/" + DAY + "_SUCCESS")).doesNotExist();
    assertThat(here.resolve(".cluster-r1")).doesNotExist();

    assertThat(copy(() -> {}).run()).isZero();
    put("types/" + DAY + "b.parquet", "two");
    put("types/" + DAY + "a.parquet", "eno");
    Files.setLastModifiedTime(
        tables.resolve("types/" + DAY + "a.parquet"), FileTime.fromMillis(1_700_000_000_000L));
    assertThat(copy(() -> {}).run()).isEqualTo(2);
    assertThat(read("types/" + DAY + "a.parquet")).isEqualTo("eno");
  }

  @Test
  void whatWasJoinedElsewhereGoesHere() throws Exception {
    put("types/" + DAY + "a.parquet", "one");
    put("types/" + DAY + "b.parquet", "two");
    copy(() -> {}).run();
    Files.writeString(here.resolve("notes.txt"), "mine");
    Files.writeString(here.resolve("types/" + DAY + "notes.txt"), "mine");
    Files.delete(tables.resolve("types/" + DAY + "a.parquet"));
    Files.delete(tables.resolve("types/" + DAY + "b.parquet"));
    put("types/" + DAY + "ab.parquet", "one and two");
    assertThat(copy(() -> {}).run()).isEqualTo(1);
    assertThat(here.resolve("types/" + DAY + "a.parquet")).doesNotExist();
    assertThat(here.resolve("types/" + DAY + "b.parquet")).doesNotExist();
    assertThat(read("types/" + DAY + "ab.parquet")).isEqualTo("one and two");
    assertThat(read("notes.txt")).isEqualTo("mine");
    assertThat(read("types/" + DAY + "notes.txt")).isEqualTo("mine");
  }

  @Test
  void filesThatGoMeanwhileAreAskedForAgain() throws Exception {
    put("types/" + DAY + "a.parquet", "one");
    TablesCopy copy =
        copy(
            () -> {
              try {
                if (Files.deleteIfExists(tables.resolve("types/" + DAY + "a.parquet"))) {
                  put("types/" + DAY + "ab.parquet", "one and two");
                }
              } catch (IOException e) {
                throw new java.io.UncheckedIOException(e);
              }
            });
    assertThatThrownBy(copy::run).isInstanceOf(FileNotFoundException.class);
    assertThat(copy.run()).isEqualTo(1);
    assertThat(read("types/" + DAY + "ab.parquet")).isEqualTo("one and two");
    assertThat(here.resolve("types/" + DAY + "a.parquet")).doesNotExist();
    assertThat(here.resolve("types/" + DAY + "a.parquet.part")).doesNotExist();
  }

  @Test
  void noTablesAtAll() throws Exception {
    Files.createDirectories(tables);
    TablesCopy copy = copy(() -> {});
    assertThatThrownBy(copy::run)
        .isInstanceOf(FileNotFoundException.class)
        .hasMessageContaining("there are no tables at");
    assertThat(here).doesNotExist();
  }
}
