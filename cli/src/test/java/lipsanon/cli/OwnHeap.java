package lipsanon.cli;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.sun.management.HotSpotDiagnosticMXBean;
import java.io.IOException;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.lang.management.ManagementFactory;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;

/** Dumps of the test's own heap, and commands about them within this process. */
record OwnHeap(Path folder) {
  private static final ObjectMapper JSON = new ObjectMapper();

  /** What a command left. */
  record Run(int code, String out, String err) {}

  /** Dumps what is alive now; the file's name. */
  String dump(String name) throws IOException {
    String file = folder.resolve(name).toString();
    ManagementFactory.getPlatformMXBean(HotSpotDiagnosticMXBean.class).dumpHeap(file, true);
    return file;
  }

  Run run(String... args) {
    StringWriter out = new StringWriter();
    StringWriter err = new StringWriter();
    Map<String, String> environment =
        Map.of(
            "XDG_CACHE_HOME", folder.resolve("cache").toString(),
            "XDG_CONFIG_HOME", folder.resolve("config").toString(),
            "COLUMNS", "150");
    int code = Main.run(new PrintWriter(out), new PrintWriter(err), environment, args);
    return new Run(code, out.toString(), err.toString());
  }

  /** The answer of a command that must end well. */
  JsonNode ask(String... args) throws Exception {
    List<String> all = new ArrayList<>(List.of(args));
    all.add("--json");
    Run run = run(all.toArray(String[]::new));
    assertThat(run.code()).as(run.err()).isZero();
    return JSON.readTree(run.out());
  }
}
