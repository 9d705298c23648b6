package lipsanon.cli;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * Runs every command of the documentation on the demo's program, and holds the answers against
 * their schemas.
 */
class WrittenCommandsTest {
  private static final Pattern BLOCK = Pattern.compile("(?ms)^```sh\\n(.*?)^```$");
  private static final Pattern EXIT = Pattern.compile("# exit (\\d+)\\s*$");

  /** Commands whose answer has a form for each of several options. */
  private static final Map<String, Integer> AT_MOST = Map.of("why", 8, "refs", 3, "keepers", 5);

  private final Map<String, Integer> asked = new HashMap<>();

  @TempDir Path folder;

  /** The program as a command on the path, quick to start. */
  private Path command() throws IOException {
    Path bin = Files.createDirectories(folder.resolve("bin"));
    Path script = bin.resolve("lipsanon");
    Files.writeString(script, "#!/bin/bash\nexec " + Packed.shellCommand("-Xmx700m") + " \"$@\"\n");
    assertThat(script.toFile().setExecutable(true)).isTrue();
    return bin;
  }

  private Tool.Result shell(Path bin, String url, String line) throws Exception {
    Map<String, String> environment = new HashMap<>();
    environment.put("PATH", bin + ":" + System.getenv("PATH"));
    environment.put("URL", url);
    return Tool.execute(folder, environment, List.of("bash", "-c", line));
  }

  @Test
  void everyCommandRuns() throws Exception {
    Path bin = command();
    Files.writeString(folder.resolve("budget.yaml"), budgets());
    Set<String> told = new TreeSet<>();
    int run = 0;
    try (Harbour harbour = new Harbour()) {
      for (Path page : DocumentationTest.pages()) {
        Matcher block = BLOCK.matcher(Files.readString(page));
        while (block.find()) {
          for (String written : block.group(1).split("\n")) {
            // another harbour office may run on this machine
            String line = written.replace(" PortMerrow ", " " + harbour.pid() + " ");
            Matcher exit = EXIT.matcher(line);
            int expected = exit.find() ? Integer.parseInt(exit.group(1)) : 0;
            Tool.Result result = shell(bin, harbour.url, line);
            assertThat(result.code())
                .as(page.getFileName() + ": " + line + "\n" + result.both())
                .isEqualTo(expected);
            Matcher command = Pattern.compile("lipsanon (\\w+)").matcher(line);
            while (command.find()) {
              told.add(command.group(1));
            }
            run++;
            json(bin, harbour.url, line);
          }
        }
      }
    }
    assertThat(run).as("commands").isGreaterThan(50);
    Set<String> commands = new TreeSet<>(Main.commands().getSubcommands().keySet());
    commands.removeAll(told);
    assertThat(commands).as("commands that no page runs").isEmpty();
  }

  /** The example of builds.md. */
  private static String budgets() throws IOException {
    Matcher yaml =
        Pattern.compile("(?ms)^```yaml\\n(version: 1.*?)^```$")
            .matcher(Files.readString(DocumentationTest.DOCS.resolve("builds.md")));
    assertThat(yaml.find()).isTrue();
    return yaml.group(1);
  }

  /**
   * Asks again for JSON where that is quick, and holds the answer against its schema: each command
   * twice or as often as its answer has forms, since every question takes a program of its own.
   */
  private void json(Path bin, String url, String line) throws Exception {
    boolean quick =
        line.matches(
            "lipsanon (survey|types|keepers|sift|show|refs|why|savings|diff|growth|prove|gate|index|fleet|"
                + "origins|config|ready|runtimes|redact) .*|lipsanon (config|ready|runtimes)");
    if (!quick || line.contains("--all") || line.contains(">") || line.contains("--index")) {
      return;
    }
    String command = line.split(" ")[1];
    if (asked.merge(command, 1, Integer::sum) > AT_MOST.getOrDefault(command, 2)) {
      return;
    }
    String bare = line.replaceAll("\\s*#.*$", "").replaceAll(" --(json|csv|markdown)\\b", "");
    Tool.Result result = shell(bin, url, bare + " --json");
    JsonNode answer = Schemas.JSON.readTree(result.out());
    String name = answer.path("answer").asText();
    assertThat(
            DocumentationTest.validate(
                DocumentationTest.DOCS.resolve("schemas/" + name + ".json"), answer))
        .as(line + "\n" + result.both())
        .isEmpty();
  }
}
