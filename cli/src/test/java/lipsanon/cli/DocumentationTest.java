package lipsanon.cli;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.networknt.schema.JsonSchema;
import com.networknt.schema.JsonSchemaFactory;
import com.networknt.schema.SpecVersion;
import com.networknt.schema.ValidationMessage;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import lipsanon.cli.command.check.BudgetKeys;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * Runs every command of the documentation on the demo's program, checks links, and holds the JSON
 * schemas of answers against the answers. With {@code -Dlipsanon.schemas=write} schemas are written
 * anew.
 */
@Tag("alone")
class DocumentationTest {
  private static final Path DOCS = Path.of("../docs").toAbsolutePath().normalize();
  private static final Pattern BLOCK = Pattern.compile("(?ms)^```sh\\n(.*?)^```$");
  private static final Pattern EXIT = Pattern.compile("# exit (\\d+)\\s*$");
  private static final Pattern LINK = Pattern.compile("\\]\\(([^)#]+)(#[^)]*)?\\)");

  @TempDir Path folder;

  private static List<Path> pages() throws IOException {
    try (Stream<Path> files = Files.list(DOCS)) {
      List<Path> pages =
          new ArrayList<>(files.filter(file -> file.toString().endsWith(".md")).sorted().toList());
      pages.add(DOCS.resolveSibling("README.md"));
      return pages;
    }
  }

  /** The program as a command on the path, quick to start. */
  private Path command() throws IOException {
    Path bin = Files.createDirectories(folder.resolve("bin"));
    Path script = bin.resolve("lipsanon");
    Files.writeString(
        script,
        "#!/bin/bash\nexec "
            + Packed.shellCommand("-XX:+UseSerialGC", "-XX:TieredStopAtLevel=1", "-Xmx700m")
            + " \"$@\"\n");
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
      for (Path page : pages()) {
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
            .matcher(Files.readString(DOCS.resolve("builds.md")));
    assertThat(yaml.find()).isTrue();
    return yaml.group(1);
  }

  /** Asks again for JSON where that is quick, and holds the answer against its schema. */
  private void json(Path bin, String url, String line) throws Exception {
    boolean quick =
        line.matches(
            "lipsanon (survey|types|keepers|sift|show|refs|why|savings|diff|growth|prove|gate|index|fleet|"
                + "origins|config|ready|runtimes|redact) .*|lipsanon (config|ready|runtimes)");
    if (!quick || line.contains("--all") || line.contains(">") || line.contains("--index")) {
      return;
    }
    String bare = line.replaceAll("\\s*#.*$", "").replaceAll(" --(json|csv|markdown)\\b", "");
    Tool.Result result = shell(bin, url, bare + " --json");
    JsonNode answer = Schemas.JSON.readTree(result.out());
    String name = answer.path("answer").asText();
    assertThat(validate(DOCS.resolve("schemas/" + name + ".json"), answer))
        .as(line + "\n" + result.both())
        .isEmpty();
  }

  private static Set<ValidationMessage> validate(Path file, JsonNode document) throws IOException {
    JsonSchema schema =
        JsonSchemaFactory.getInstance(SpecVersion.VersionFlag.V202012)
            .getSchema(Schemas.JSON.readTree(file.toFile()));
    return schema.validate(document);
  }

  @Test
  void schemasAreThoseOfTheAnswers() throws Exception {
    Set<String> expected = new TreeSet<>(Set.of("budget.json"));
    for (String answer : Schemas.ANSWERS.keySet()) {
      Path file = DOCS.resolve("schemas/" + answer + ".json");
      String text =
          Schemas.JSON.writerWithDefaultPrettyPrinter().writeValueAsString(Schemas.of(answer))
              + "\n";
      if ("write".equals(System.getProperty("lipsanon.schemas"))) {
        Files.writeString(file, text);
      }
      assertThat(file).as("write it with -Dlipsanon.schemas=write").hasContent(text);
      expected.add(file.getFileName().toString());
    }
    try (Stream<Path> files = Files.list(DOCS.resolve("schemas"))) {
      assertThat(files.map(file -> file.getFileName().toString()))
          .containsExactlyInAnyOrderElementsOf(expected);
    }
  }

  /** What the program takes is what the schema of budgets says, and the other way round. */
  @Test
  void theSchemaOfBudgetsIsWhatTheProgramTakes() throws Exception {
    JsonNode schema = Schemas.JSON.readTree(DOCS.resolve("schemas/budget.json").toFile());
    assertThat(names(schema.path("properties"))).isEqualTo(BudgetKeys.ofFile());
    assertThat(names(schema.at("/$defs/budget/properties"))).isEqualTo(BudgetKeys.ofBudget());
    String[][] cases = {
      {"budgets: [{heap: 1MB}]", "true"},
      {"version: 1\nactions: [5, 5]\nbudgets: [{select: a.B, count: 3, name: x}]", "true"},
      {"budgets: [{savings: 10}, {growth: 0}]", "true"},
      {"budgets: []", "false"},
      {"budgets: [{count: 3}]", "false"},
      {"budgets: [{heap: 1MB, growth: 3}]", "false"},
      {"budgets: [{heap: 1 furlong}]", "false"},
      {"budgets: [{heap: 1MB, height: 3}]", "false"},
      {"version: 2\nbudgets: [{heap: 1MB}]", "false"},
      {"actions: 0\nbudgets: [{heap: 1MB}]", "false"},
      {"budget: [{heap: 1MB}]", "false"}
    };
    for (String[] one : cases) {
      Path file = Files.writeString(folder.resolve("case.yaml"), one[0]);
      boolean valid =
          validate(DOCS.resolve("schemas/budget.json"), BudgetKeys.asJson(Schemas.JSON, file))
              .isEmpty();
      assertThat(valid).as("the schema on " + one[0]).isEqualTo(Boolean.valueOf(one[1]));
      assertThat(BudgetKeys.takes(file)).as("the program on " + one[0]).isEqualTo(valid);
    }
  }

  private static Set<String> names(JsonNode object) {
    Set<String> names = new TreeSet<>();
    object.fieldNames().forEachRemaining(names::add);
    return names;
  }

  @Test
  void linksLeadSomewhere() throws Exception {
    for (Path page : pages()) {
      Matcher link = LINK.matcher(Files.readString(page));
      while (link.find()) {
        if (!link.group(1).matches("[a-z]+:.*")) {
          assertThat(page.resolveSibling(link.group(1)))
              .as(page.getFileName() + ": " + link.group(1))
              .exists();
        }
      }
    }
  }
}
