package lipsanon.index;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.Callable;
import java.util.concurrent.CancellationException;
import java.util.concurrent.atomic.AtomicInteger;
import lipsanon.format.hprof.HprofBuilder;
import lipsanon.graph.Workers;
import lipsanon.io.Progress;
import lipsanon.snapshot.Snapshots;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** An index through its life: built once, reused, noticed when it no longer fits, never half. */
class IndexTest {
  @TempDir Path folder;
  private Path file;

  @BeforeEach
  void write() throws Exception {
    file = folder.resolve("s.hprof");
    Files.write(file, HprofBuilder.sample(8));
  }

  private Snapshots.Options options() {
    return new Snapshots.Options(null, folder.resolve("cache"), false, 1L << 30);
  }

  private static final class Counting implements Progress {
    final AtomicInteger phases = new AtomicInteger();

    @Override
    public void phase(String name, long total) {
      phases.incrementAndGet();
    }

    @Override
    public void at(long done) {}
  }

  private int phasesOfOpening() throws Exception {
    Counting counting = new Counting();
    Snapshots.open(file, options(), counting).close();
    return counting.phases.get();
  }

  @Test
  void isBuiltOnceAndReadableByItsOwnerOnly() throws Exception {
    assertThat(phasesOfOpening()).isPositive();
    assertThat(phasesOfOpening()).isZero();
    Path index = folder.resolve("s.hprof.lipsanon");
    assertThat(PosixFilePermissions.toString(Files.getPosixFilePermissions(index)))
        .isEqualTo("rwx------");
    try (var files = Files.list(index)) {
      for (Path one : (Iterable<Path>) files::iterator) {
        assertThat(PosixFilePermissions.toString(Files.getPosixFilePermissions(one)))
            .as(one.toString())
            .isEqualTo("rw-------");
        assertThat(one.toString()).doesNotEndWith(".tmp");
      }
    }
  }

  @Test
  void aSnapshotWithAnotherTimeIsIndexedAgain() throws Exception {
    phasesOfOpening();
    // the same size, and a byte that no sample of a large file need meet: the time tells
    Files.setLastModifiedTime(file, java.nio.file.attribute.FileTime.fromMillis(0));
    assertThat(phasesOfOpening()).isPositive();
    assertThat(phasesOfOpening()).isZero();
    Files.write(file, HprofBuilder.sample(4));
    assertThat(phasesOfOpening()).isPositive();
    try (Snapshot s = Snapshots.open(file, options(), Progress.NONE)) {
      assertThat(s.facts().version()).contains("4-byte");
    }
  }

  @Test
  void aBrokenIndexIsNoticedByTheCheckAndBuiltAgain() throws Exception {
    phasesOfOpening();
    assertThat(Snapshots.check(file, options())).isEmpty();
    for (int i = 0; i < indexFiles().size(); i++) {
      Path one = indexFiles().get(i);
      byte[] sound = Files.readAllBytes(one);
      for (int at : new int[] {0, sound.length / 2, sound.length - 1}) {
        byte[] broken = sound.clone();
        broken[at] ^= 0x10;
        Files.write(one, broken);
        assertThat(Snapshots.check(file, options())).as("%s at %d", one, at).isNotEmpty();
      }
      Files.write(one, java.util.Arrays.copyOf(sound, sound.length / 2));
      assertThat(Snapshots.check(file, options())).as("%s cut", one).isNotEmpty();
      try (Snapshot s = Snapshots.open(file, options(), Progress.NONE)) {
        assertThat(s.objectCount()).isEqualTo(23);
      }
      // the opening has built a new one
      assertThat(Snapshots.check(file, options())).isEmpty();
    }
  }

  private List<Path> indexFiles() throws Exception {
    try (var all = Files.list(folder.resolve("s.hprof.lipsanon"))) {
      return all.filter(one -> !one.endsWith("lock")).sorted().toList();
    }
  }

  @Test
  void cancellingLeavesNothingHalf() throws Exception {
    Progress stopping =
        new Progress() {
          @Override
          public void phase(String name, long total) {
            if (name.contains("dominators")) {
              throw new CancellationException("stop");
            }
          }

          @Override
          public void at(long done) {}
        };
    assertThatThrownBy(() -> Snapshots.open(file, options(), stopping))
        .isInstanceOf(CancellationException.class);
    try (var files = Files.list(folder.resolve("s.hprof.lipsanon"))) {
      assertThat(files.map(one -> one.getFileName().toString())).containsOnly("lock");
    }
    assertThat(phasesOfOpening()).isPositive();
  }

  @Test
  void manyAtOnceBuildItOnce() throws Exception {
    AtomicInteger builds = new AtomicInteger();
    Progress progress =
        new Progress() {
          @Override
          public void phase(String name, long total) {
            if (name.equals("computing dominators")) {
              builds.incrementAndGet();
            }
          }

          @Override
          public void at(long done) {}
        };
    List<Callable<Void>> works = new ArrayList<>();
    for (int i = 0; i < 6; i++) {
      works.add(
          () -> {
            Snapshots.open(file, options(), progress).close();
            return null;
          });
    }
    Workers.all(works);
    assertThat(builds.get()).isEqualTo(1);
  }

  @Test
  void goesElsewhereOnRequest() throws Exception {
    Path elsewhere = folder.resolve("elsewhere");
    Snapshots.Options options = new Snapshots.Options(elsewhere, folder, false, 1L << 30);
    Snapshots.open(file, options, Progress.NONE).close();
    assertThat(elsewhere.resolve("s.hprof.lipsanon/meta")).exists();
    assertThat(folder.resolve("s.hprof.lipsanon")).doesNotExist();
  }

  @Test
  void scratchFilesGiveTheSameFigures() throws Exception {
    List<String> figures = new ArrayList<>();
    for (long memory : new long[] {1L << 30, 0}) {
      Snapshots.Options options =
          new Snapshots.Options(folder.resolve("m" + memory), folder, false, memory);
      StringBuilder all = new StringBuilder();
      try (Snapshot s = Snapshots.open(file, options, Progress.NONE)) {
        for (int n = 0; n < s.objectCount(); n++) {
          all.append(s.id(n)).append(' ').append(s.dominator(n)).append(' ');
          all.append(s.retainedBytes(n)).append(' ').append(s.depth(n)).append('\n');
        }
      }
      figures.add(all.toString());
    }
    assertThat(figures.get(1)).isEqualTo(figures.get(0));
  }
}
