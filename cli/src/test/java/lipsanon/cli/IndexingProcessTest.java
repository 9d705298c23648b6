package lipsanon.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import com.sun.management.HotSpotDiagnosticMXBean;
import java.lang.management.ManagementFactory;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * Indexing by real processes: killed at any moment, several at once, on a full disk, with little
 * memory.
 */
class IndexingProcessTest {
  @TempDir Path folder;
  private Path file;

  @BeforeEach
  void dump() throws Exception {
    file = folder.resolve("own.hprof");
    ManagementFactory.getPlatformMXBean(HotSpotDiagnosticMXBean.class)
        .dumpHeap(file.toString(), true);
  }

  private Process start(String... args) throws Exception {
    List<String> command = new ArrayList<>();
    command.add(Path.of(System.getProperty("java.home"), "bin/java").toString());
    command.addAll(List.of("-Xmx400m", "-cp", System.getProperty("java.class.path")));
    command.add("lipsanon.cli.Main");
    command.addAll(List.of(args));
    return new ProcessBuilder(command)
        .redirectOutput(ProcessBuilder.Redirect.DISCARD)
        .redirectError(ProcessBuilder.Redirect.DISCARD)
        .start();
  }

  @Test
  void killedAtAnyMomentLeavesAllOrNothing() throws Exception {
    Random random = new Random(9);
    int killed = 0;
    for (int i = 0; i < 8; i++) {
      Process process = start("index", file.toString());
      if (!process.waitFor(150 + random.nextInt(900), TimeUnit.MILLISECONDS)) {
        process.destroyForcibly().waitFor();
        killed++;
      }
      Path meta = folder.resolve("own.hprof.lipsanon/meta");
      if (Files.exists(meta)) {
        Tool.Result check = Tool.run(folder, "index", file.toString(), "--check");
        assertThat(check.code()).as(check.both()).isZero();
        try (Stream<Path> files = Files.list(meta.getParent())) {
          for (Path one : files.toList()) {
            Files.delete(one);
          }
        }
      }
    }
    assertThat(killed).isPositive();
    Tool.Result after = Tool.run(folder, "types", file.toString());
    assertThat(after.code()).as(after.both()).isZero();
    Tool.Result check = Tool.run(folder, "index", file.toString(), "--check");
    assertThat(check.code()).as(check.both()).isZero();
    try (Stream<Path> files = Files.list(folder.resolve("own.hprof.lipsanon"))) {
      // what the killed ones left is gone: one file a column, and meta and lock
      assertThat(files.count()).isEqualTo(16);
    }
  }

  @Test
  void severalProcessesAtOnceAllAnswer() throws Exception {
    List<Process> processes = new ArrayList<>();
    for (int i = 0; i < 4; i++) {
      processes.add(start("survey", file.toString()));
    }
    for (Process process : processes) {
      assertThat(process.waitFor()).isZero();
    }
    assertThat(Tool.run(folder, "index", file.toString(), "--check").code()).isZero();
  }

  @Test
  void aFullDiskGivesOneLineAndLeavesNothing() throws Exception {
    Path disk = Files.createDirectory(folder.resolve("disk"));
    Process mount =
        new ProcessBuilder("mount", "-t", "tmpfs", "-o", "size=600k", "none", disk.toString())
            .redirectErrorStream(true)
            .start();
    mount.getInputStream().readAllBytes();
    assumeTrue(mount.waitFor() == 0, "nothing can be mounted here");
    try {
      Tool.Result full =
          Tool.run(folder, "survey", file.toString(), "--index-dir", disk.toString());
      assertThat(full.code()).as(full.both()).isEqualTo(3);
      assertThat(full.err().trim().lines()).hasSize(1);
      assertThat(full.err()).contains("disk is full");
      try (Stream<Path> left = Files.list(disk.resolve("own.hprof.lipsanon"))) {
        assertThat(left.map(one -> one.getFileName().toString())).containsOnly("lock");
      }
    } finally {
      new ProcessBuilder("umount", disk.toString()).start().waitFor();
    }
  }
}
