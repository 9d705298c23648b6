package lipsanon.packaging;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assumptions.assumeThat;

import com.sun.management.HotSpotDiagnosticMXBean;
import java.io.File;
import java.io.IOException;
import java.lang.management.ManagementFactory;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The packages, made as users make them, unpacked, installed, run and removed. */
class PackagesTest {
  @TempDir static Path folder;
  private static Path packages;

  /** What a run left. */
  private record Run(int code, String out) {}

  @BeforeAll
  static void makeThem() throws Exception {
    packages = folder.resolve("packages");
    // packed quickly: what is in them is the same
    Map<String, String> quick =
        Map.of("GZIP", "-1", "DPKG_DEB_COMPRESSOR_TYPE", "gzip", "DPKG_DEB_COMPRESSOR_LEVEL", "1");
    Run run = run(Path.of("..").toAbsolutePath().normalize(), quick, "./dist", packages.toString());
    assertThat(run.code()).as(run.out()).isZero();
  }

  private static Run run(Path where, Map<String, String> environment, String... command)
      throws IOException, InterruptedException {
    File out = Files.createTempFile(folder, "run", ".txt").toFile();
    ProcessBuilder builder =
        new ProcessBuilder(command)
            .directory(where.toFile())
            .redirectErrorStream(true)
            .redirectOutput(out);
    builder.environment().putAll(environment);
    Process process = builder.start();
    process.getOutputStream().close();
    if (!process.waitFor(10, TimeUnit.MINUTES)) {
      process.destroyForcibly();
      throw new IOException("no end: " + List.of(command));
    }
    return new Run(process.exitValue(), Files.readString(out.toPath(), StandardCharsets.UTF_8));
  }

  private static Path one(String pattern) throws IOException {
    try (Stream<Path> files = Files.list(packages)) {
      return files
          .filter(file -> file.getFileName().toString().matches(pattern))
          .findFirst()
          .orElseThrow();
    }
  }

  /** Unpacked below a folder with a space and an umlaut in its name. */
  private static Path unpacked(String pattern, String name) throws Exception {
    Path where = Files.createDirectories(folder.resolve("Büro " + name));
    Run run = run(where, Map.of(), "tar", "-xzf", one(pattern).toString());
    assertThat(run.code()).as(run.out()).isZero();
    try (Stream<Path> inside = Files.list(where)) {
      return inside.findFirst().orElseThrow();
    }
  }

  private static String dump() throws IOException {
    Path file = folder.resolve("own.hprof");
    if (!Files.exists(file)) {
      ManagementFactory.getPlatformMXBean(HotSpotDiagnosticMXBean.class)
          .dumpHeap(file.toString(), true);
    }
    return file.toString();
  }

  private static Map<String, String> caches(String name) {
    return Map.of(
        "XDG_CACHE_HOME", folder.resolve("cache-" + name).toString(), "LC_ALL", "C.UTF-8");
  }

  @Test
  void theArchiveRunsWhereItIsUnpacked() throws Exception {
    Path root = unpacked("lipsanon-[\\d.]+\\.tar\\.gz", "plain");
    String program = root.resolve("bin/lipsanon").toString();
    Run version = run(folder, caches("plain"), program, "--version");
    assertThat(version.out()).matches("lipsanon \\d+\\.\\d+\\.\\d+( \\(build [0-9a-f]+\\))?\\s*");
    Run types = run(folder, caches("plain"), program, "--memory", "600m", "types", dump());
    assertThat(types.code()).as(types.out()).isZero();
    assertThat(types.out()).contains("java.lang.String");
    // the archive of prepared classes is made beside the first command
    Path cache = folder.resolve("cache-plain/lipsanon");
    for (int i = 0; i < 600 && !prepared(cache); i++) {
      TimeUnit.MILLISECONDS.sleep(100);
    }
    assertThat(prepared(cache)).isTrue();
    assertThat(run(folder, caches("plain"), program, "types", dump()).out()).isEqualTo(types.out());
    assertThat(Files.readString(root.resolve("bin/lipsanon.cmd"))).contains("\r\n");
    for (String part : List.of("LICENSE", "README.md", "node/stays-flat.mjs", "docs/guide.md")) {
      assertThat(root.resolve(part)).isNotEmptyFile();
    }
  }

  private static boolean prepared(Path cache) throws IOException {
    if (!Files.isDirectory(cache)) {
      return false;
    }
    try (Stream<Path> files = Files.list(cache)) {
      return files.anyMatch(file -> file.toString().endsWith(".jsa"));
    }
  }

  @Test
  void withItsOwnRuntimeItNeedsNoJava() throws Exception {
    Path root = unpacked("lipsanon-[\\d.]+-linux-.*\\.tar\\.gz", "whole");
    Path tools = Files.createDirectories(folder.resolve("tools"));
    for (String tool :
        List.of("bash", "env", "stat", "cksum", "dirname", "mkdir", "mv", "rm", "tr", "kill")) {
      for (String place : List.of("/bin", "/usr/bin")) {
        Path there = Path.of(place, tool);
        if (Files.exists(there) && !Files.exists(tools.resolve(tool))) {
          Files.createSymbolicLink(tools.resolve(tool), there);
        }
      }
    }
    Map<String, String> environment = new java.util.HashMap<>(caches("whole"));
    environment.put("PATH", tools.toString());
    environment.put("JAVA_HOME", "");
    String program = root.resolve("bin/lipsanon").toString();
    Run run = run(folder, environment, program, "survey", dump());
    assertThat(run.code()).as(run.out()).isZero();
    assertThat(run.out()).contains("JVM heap of");
    Run ready = run(folder, environment, program, "ready", "--json");
    assertThat(ready.out())
        .contains(root.resolve("runtime").toString())
        .contains("look into other JVMs");
    Run picture = run(folder, environment, program, "keepers", dump(), "--png", "keepers.png");
    assertThat(picture.code()).as(picture.out()).isZero();
    assertThat(folder.resolve("keepers.png")).isNotEmptyFile();
    // attaching and recording are in the runtime: a JVM of this test is captured with it
    Run runtimes =
        run(folder, environment, program, "capture", Long.toString(ProcessHandle.current().pid()));
    assertThat(runtimes.code()).as(runtimes.out()).isZero();
  }

  @Test
  void completionKnowsTheCommandsAndTheManualHasAPageForEach() throws Exception {
    Path root = unpacked("lipsanon-[\\d.]+\\.tar\\.gz", "manual");
    String script =
        "source completion/lipsanon.bash; COMP_WORDS=(lipsanon sur); COMP_CWORD=1; "
            + "_complete_lipsanon; echo \"${COMPREPLY[@]}\"";
    Run completed = run(root, Map.of(), "bash", "-c", script);
    assertThat(completed.out().strip()).isEqualTo("survey");
    assertThat(root.resolve("completion/_lipsanon")).content().startsWith("#compdef lipsanon");
    for (String command : List.of("", "-survey", "-gate", "-redact", "-ready", "-capture")) {
      Path page = root.resolve("man/man1/lipsanon" + command + ".1");
      assertThat(page).content().contains(".TH \"LIPSANON").contains("NAME").contains("SYNOPSIS");
    }
  }

  @Test
  void theDebianPackageIsInstalledAndRemoved() throws Exception {
    assumeThat(System.getProperty("user.name")).as("installing takes root").isEqualTo("root");
    assumeThat(Path.of("/usr/bin/dpkg")).exists();
    String deb = one("lipsanon_.*\\.deb").toString();
    Run install = run(folder, Map.of(), "dpkg", "--install", deb);
    try {
      assertThat(install.code()).as(install.out()).isZero();
      Run run = run(folder, caches("deb"), "/usr/bin/lipsanon", "types", dump(), "--limit", "3");
      assertThat(run.code()).as(run.out()).isZero();
      assertThat(Path.of("/usr/share/man/man1/lipsanon-survey.1")).isNotEmptyFile();
    } finally {
      Run remove = run(folder, Map.of(), "dpkg", "--purge", "lipsanon");
      assertThat(remove.code()).as(remove.out()).isZero();
    }
    for (String gone :
        List.of("/usr/bin/lipsanon", "/opt/lipsanon", "/usr/share/man/man1/lipsanon-survey.1")) {
      assertThat(Files.exists(Path.of(gone), java.nio.file.LinkOption.NOFOLLOW_LINKS))
          .as(gone)
          .isFalse();
    }
  }
}
