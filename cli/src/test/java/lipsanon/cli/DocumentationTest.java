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
import java.util.List;
import java.util.Set;
import java.util.TreeSet;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import lipsanon.cli.command.check.BudgetKeys;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * Checks the documentation's links, and holds its JSON schemas against what the program answers and
 * takes. With {@code -Dlipsanon.schemas=write} schemas are written anew.
 */
class DocumentationTest {
  static final Path DOCS = Path.of("../docs").toAbsolutePath().normalize();
  private static final Pattern LINK = Pattern.compile("\\]\\(([^)#]+)(#[^)]*)?\\)");

  @TempDir Path folder;

  static List<Path> pages() throws IOException {
    try (Stream<Path> files = Files.list(DOCS)) {
      List<Path> pages =
          new ArrayList<>(files.filter(file -> file.toString().endsWith(".md")).sorted().toList());
      pages.add(DOCS.resolveSibling("README.md"));
      return pages;
    }
  }

  static Set<ValidationMessage> validate(Path file, JsonNode document) throws IOException {
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
