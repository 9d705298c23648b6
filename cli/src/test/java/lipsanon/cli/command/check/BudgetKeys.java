package lipsanon.cli.command.check;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.nio.file.Path;
import java.util.Set;
import java.util.TreeSet;
import lipsanon.cli.UsageException;
import lipsanon.cli.settings.SettingsFile;

/** What the reader of budgets knows, for tests elsewhere. */
public final class BudgetKeys {
  private BudgetKeys() {}

  /** Keys of a file. */
  public static Set<String> ofFile() {
    return new TreeSet<>(BudgetFile.KEYS);
  }

  /** Keys of a budget. */
  public static Set<String> ofBudget() {
    return new TreeSet<>(BudgetFile.BUDGET_KEYS);
  }

  /** Whether a file is read without a complaint. */
  public static boolean takes(Path file) {
    try {
      BudgetFile.read(file);
      return true;
    } catch (UsageException e) {
      return false;
    }
  }

  /** A YAML file as JSON. */
  public static JsonNode asJson(ObjectMapper json, Path file) {
    return json.valueToTree(SettingsFile.parse(file));
  }
}
