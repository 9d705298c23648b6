package lipsanon.index;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import java.util.stream.Stream;
import lipsanon.array.IntList;
import lipsanon.format.hprof.HprofBuilder;
import lipsanon.io.Progress;
import lipsanon.snapshot.Snapshots;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Index folders that somebody else made, and files of an index that were changed. */
class UntrustedIndexTest {
  @TempDir Path folder;
  private Path file;
  private Path index;
  private final List<String> told = new ArrayList<>();

  @BeforeEach
  void write() throws Exception {
    file = folder.resolve("s.hprof");
    Files.write(file, HprofBuilder.sample(8));
    index = folder.resolve("s.hprof.lipsanon");
  }

  private Snapshots.Options options() {
    return new Snapshots.Options(null, folder.resolve("cache"), false, 1L << 30);
  }

  private Snapshot open() throws Exception {
    return Snapshots.open(
        file,
        options(),
        new Progress() {
          @Override
          public void phase(String name, long total) {
            told.add(name);
          }

          @Override
          public void at(long done) {}
        });
  }

  @Test
  void aLinkInPlaceOfTheFolderIsNotFollowed() throws Exception {
    Path mine = Files.createDirectory(folder.resolve("mine"));
    for (String name : List.of("a.col", "type-1f.col", "meta", "notes.tmp")) {
      Files.writeString(mine.resolve(name), "mine");
    }
    Files.createSymbolicLink(index, mine);
    try (Snapshot s = open()) {
      assertThat(s.folder()).startsWith(folder.resolve("cache"));
    }
    assertThat(told).anyMatch(line -> line.contains("is a link") && line.contains("cache"));
    try (Stream<Path> left = Files.list(mine)) {
      assertThat(left).hasSize(4).allSatisfy(one -> assertThat(one).hasContent("mine"));
    }
  }

  @Test
  void aFolderThatOthersCanWriteToIsNotUsed() throws Exception {
    open().close();
    Files.setPosixFilePermissions(index, PosixFilePermissions.fromString("rwxrwxrwx"));
    told.clear();
    try (Snapshot s = open()) {
      assertThat(s.folder()).startsWith(folder.resolve("cache"));
    }
    assertThat(told).anyMatch(line -> line.contains("can be written to by others"));
    Path asked = Files.createDirectories(folder.resolve("asked/s.hprof.lipsanon"));
    Files.setPosixFilePermissions(asked, PosixFilePermissions.fromString("rwxrwxr-x"));
    assertThatThrownBy(
            () ->
                Snapshots.open(
                    file,
                    new Snapshots.Options(folder.resolve("asked"), folder, false, 1L << 30),
                    Progress.NONE))
        .isInstanceOf(BrokenIndexException.class)
        .hasMessageContaining("--index-dir");
  }

  @Test
  void onlyItsOwnFilesAreEverDeleted() throws Exception {
    open().close();
    Path victim = Files.writeString(folder.resolve("victim"), "mine");
    Files.createSymbolicLink(index.resolve("meta-1.tmp"), victim);
    Files.createSymbolicLink(index.resolve("meta.tmp"), victim);
    Files.writeString(index.resolve("letter.tmp"), "mine");
    Files.writeString(index.resolve("Photo.col"), "mine");
    Files.setLastModifiedTime(file, java.nio.file.attribute.FileTime.fromMillis(1));
    open().close();
    assertThat(victim).hasContent("mine");
    assertThat(index.resolve("letter.tmp")).hasContent("mine");
    assertThat(index.resolve("Photo.col")).hasContent("mine");
  }

  /** Everything that an index tells, or null where it says that it is damaged. */
  private String everything() throws Exception {
    StringBuilder all = new StringBuilder();
    try (Snapshot s = open()) {
      for (int n = 0; n < s.objectCount(); n++) {
        all.append(s.id(n)).append(s.typeName(n)).append(s.shallowBytes(n)).append(' ');
        all.append(s.retainedBytes(n)).append(s.dominator(n)).append(s.depth(n));
        all.append(s.strength(n)).append(s.position(n));
        IntList inbound = s.inbound(n);
        for (int i = 0; i < inbound.size(); i++) {
          all.append(',').append(inbound.get(i));
        }
      }
      return all.append(s.topColumn().get(0)).toString();
    } catch (UncheckedIOException e) {
      assertThat(e.getCause()).isInstanceOf(BrokenIndexException.class);
      assertThat(((BrokenIndexException) e.getCause()).folder()).isEqualTo(index);
      return null;
    }
  }

  @Test
  void noFlippedBitChangesAnAnswer() throws Exception {
    String sound = everything();
    Random random = new Random(Long.getLong("lipsanon.seed", 11));
    int noticed = 0;
    for (int i = 0; i < 400; i++) {
      List<Path> files = files();
      Path one = files.get(random.nextInt(files.size()));
      byte[] bytes = Files.readAllBytes(one);
      int at = random.nextInt(bytes.length);
      bytes[at] ^= (byte) (1 << random.nextInt(8));
      Files.write(one, bytes);
      String now = everything();
      if (now == null) {
        noticed++;
        IndexStore.forget(index);
        now = everything();
      }
      assertThat(now).as("%s at %d", one, at).isEqualTo(sound);
    }
    assertThat(noticed).isPositive();
  }

  private List<Path> files() throws IOException {
    try (Stream<Path> all = Files.list(index)) {
      return all.filter(one -> !one.endsWith("lock")).sorted().toList();
    }
  }
}
