package lipsanon.junit;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.platform.engine.discovery.DiscoverySelectors.selectClass;

import java.net.URL;
import java.net.URLClassLoader;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Comparator;
import java.util.List;
import java.util.stream.Stream;
import javax.tools.JavaCompiler;
import javax.tools.StandardJavaFileManager;
import javax.tools.ToolProvider;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.platform.testkit.engine.EngineTestKit;
import org.junit.platform.testkit.engine.Events;

/** The example of the documentation, compiled and run as it stands there. */
class ExampleTest {
  private static final Path EXAMPLE =
      Path.of("../docs/examples/junit/HarbourOfficeTest.java").toAbsolutePath().normalize();

  @TempDir Path folder;

  private Events run(boolean forgetful) throws Exception {
    JavaCompiler compiler = ToolProvider.getSystemJavaCompiler();
    try (StandardJavaFileManager files = compiler.getStandardFileManager(null, null, null)) {
      List<String> options =
          List.of("-d", folder.toString(), "-classpath", System.getProperty("java.class.path"));
      assertThat(
              compiler
                  .getTask(null, files, null, options, null, files.getJavaFileObjects(EXAMPLE))
                  .call())
          .isTrue();
    }
    System.setProperty("forgetful", Boolean.toString(forgetful));
    try (URLClassLoader loader =
        new URLClassLoader(new URL[] {folder.toUri().toURL()}, getClass().getClassLoader())) {
      return EngineTestKit.engine("junit-jupiter")
          .selectors(selectClass(loader.loadClass("HarbourOfficeTest")))
          .execute()
          .testEvents();
    } finally {
      System.clearProperty("forgetful");
    }
  }

  @Test
  void theExampleTellsAForgetfulOfficeFromAnother() throws Exception {
    run(false).assertStatistics(counts -> counts.succeeded(2).failed(0));
    Events events = run(true);
    events.assertStatistics(counts -> counts.succeeded(0).failed(2));
    try (Stream<Path> kept = Files.list(Path.of("target"))) {
      for (Path snapshots :
          kept.filter(path -> path.getFileName().toString().startsWith("lipsanon-")).toList()) {
        try (Stream<Path> all = Files.walk(snapshots)) {
          for (Path path : all.sorted(Comparator.reverseOrder()).toList()) {
            Files.delete(path);
          }
        }
      }
    }
  }
}
