package lipsanon.capture;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** A snapshot's file is there whole and private, or not at all. */
class DestinationTest {
  @TempDir Path folder;

  private Destination destination(String name, boolean force) throws CaptureException {
    return Destination.of(new CaptureOptions(folder.resolve(name), false, force, false));
  }

  private static void write(Path file, String text) throws IOException {
    try (FileChannel out = Destination.create(file)) {
      out.write(ByteBuffer.wrap(text.getBytes()));
    }
  }

  private List<String> names() throws IOException {
    try (Stream<Path> files = Files.list(folder)) {
      return files.map(file -> file.getFileName().toString()).sorted().toList();
    }
  }

  @Test
  void whatIsFinishedGetsItsName() throws Exception {
    Destination destination = destination("a.hprof", false);
    Path temporary = destination.partName();
    try (Destination.Part part = destination.part(temporary)) {
      write(temporary, "whole");
      assertThat(names()).containsExactly(temporary.getFileName().toString());
      part.finish();
    }
    assertThat(names()).containsExactly("a.hprof");
    assertThat(folder.resolve("a.hprof")).hasContent("whole");
    assertThat(PosixFilePermissions.toString(Files.getPosixFilePermissions(destination.file())))
        .isEqualTo("rw-------");
  }

  @Test
  void whatIsNotFinishedVanishes() throws Exception {
    Destination destination = destination("a.hprof", false);
    Destination.Part half = destination.part(destination.partName());
    write(destination.partName(), "half");
    half.close();
    assertThat(names()).isEmpty();
    try (Destination.Part part = destination.part(destination.partName())) {
      assertThatThrownBy(part::finish).isInstanceOf(IOException.class);
    }
    assertThat(names()).isEmpty();
  }

  @Test
  void whatIsThereIsKeptUnlessForced() throws Exception {
    Files.writeString(folder.resolve("a.hprof"), "older");
    assertThatThrownBy(() -> destination("a.hprof", false))
        .isInstanceOf(CaptureException.class)
        .hasMessageContaining("a.hprof is there already")
        .hasMessageContaining("--force");
    Destination forced = destination("a.hprof", true);
    try (Destination.Part part = forced.part(forced.partName())) {
      write(forced.partName(), "newer");
      assertThat(folder.resolve("a.hprof")).hasContent("older");
      part.finish();
    }
    assertThat(folder.resolve("a.hprof")).hasContent("newer");
  }

  @Test
  void whatAppearsMeanwhileIsKeptToo() throws Exception {
    Destination destination = destination("a.hprof", false);
    try (Destination.Part part = destination.part(destination.partName())) {
      write(destination.partName(), "mine");
      Files.createSymbolicLink(folder.resolve("a.hprof"), Path.of("/nowhere"));
      assertThatThrownBy(part::finish)
          .isInstanceOf(CaptureException.class)
          .hasMessageContaining("appeared meanwhile");
    }
    assertThat(names()).containsExactly("a.hprof");
    assertThat(folder.resolve("a.hprof")).isSymbolicLink();
  }

  @Test
  void aFileOfAnotherPlaceIsMovedAndMadePrivate() throws Exception {
    Path elsewhere = Files.createTempDirectory("elsewhere").resolve("dump");
    Files.writeString(elsewhere, "from the target");
    Files.setPosixFilePermissions(elsewhere, PosixFilePermissions.fromString("rw-r--r--"));
    Destination destination = destination("b.hprof", false);
    try (Destination.Part part = destination.part(elsewhere)) {
      part.finish();
    }
    assertThat(elsewhere).doesNotExist();
    assertThat(destination.file()).hasContent("from the target");
    assertThat(PosixFilePermissions.toString(Files.getPosixFilePermissions(destination.file())))
        .isEqualTo("rw-------");
    Files.delete(elsewhere.getParent());
  }

  @Test
  void placesThatCannotBe() throws Exception {
    assertThatThrownBy(() -> destination("no/such/folder/a.hprof", false))
        .isInstanceOf(CaptureException.class)
        .hasMessageContaining("is no folder that can be written to");
    Files.writeString(folder.resolve("file"), "");
    assertThatThrownBy(() -> destination("file/a.hprof", false))
        .isInstanceOf(CaptureException.class);
    assertThatThrownBy(() -> destination("a.hprof", false).needRoom(1L << 60))
        .isInstanceOf(CaptureException.class)
        .hasMessageContaining("MB free")
        .hasMessageContaining("-o");
    destination("a.hprof", false).needRoom(1);
    assertThat(destination("a.hprof", false).file()).isAbsolute();
  }

  @Test
  void onlyFilesAreReplaced() throws Exception {
    Files.createDirectory(folder.resolve("there"));
    Files.createSymbolicLink(folder.resolve("tofolder"), folder.resolve("there"));
    Files.createSymbolicLink(folder.resolve("dangling"), folder.resolve("nothing"));
    for (String name : List.of("there", "tofolder", "dangling")) {
      assertThatThrownBy(() -> destination(name, true))
          .as(name)
          .isInstanceOf(CaptureException.class)
          .hasMessageContaining("never replaced");
    }
    assertThatThrownBy(
            () -> Destination.of(new CaptureOptions(Path.of("/dev/null"), false, true, false)))
        .hasMessageContaining("a device or a pipe");
    assertThat(names()).containsExactly("dangling", "there", "tofolder");
  }

  @Test
  void whatAKilledCaptureLeftIsRemovedByTheNext() throws Exception {
    Process gone = new ProcessBuilder("true").start();
    gone.waitFor();
    Path left = Files.writeString(folder.resolve(".a.hprof." + gone.pid() + ".part.hprof"), "x");
    Path page = Files.writeString(folder.resolve(".b." + gone.pid() + ".part"), "x");
    long self = ProcessHandle.current().pid();
    Path alive = Files.writeString(folder.resolve(".c." + self + ".part"), "x");
    Path other = Files.writeString(folder.resolve("letter.part"), "x");
    destination("d.hprof", false);
    assertThat(left).doesNotExist();
    assertThat(page).doesNotExist();
    assertThat(alive).exists();
    assertThat(other).exists();
  }
}
