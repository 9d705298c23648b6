package lipsanon.cli.command.check;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import lipsanon.change.Budget;
import lipsanon.cli.UsageException;
import lipsanon.cli.settings.SettingsFile;

/**
 * A file of budgets: YAML, as {@code docs/schemas/budget.json} describes it.
 *
 * @param actions how often the action was done between two snapshots; empty if not told
 * @param budgets at least one
 */
record BudgetFile(List<Integer> actions, List<Budget> budgets) {
  static final Set<String> KEYS = Set.of("version", "actions", "budgets");
  static final Set<String> BUDGET_KEYS =
      Set.of("name", "select", "kind", "heap", "count", "retained", "growth", "savings");

  private static final Pattern SIZE =
      Pattern.compile("(\\d+(?:\\.\\d+)?)\\s*(B|kB|MB|GB|TB)?", Pattern.CASE_INSENSITIVE);
  private static final List<String> UNITS = List.of("b", "kb", "mb", "gb", "tb");

  static BudgetFile read(Path file) {
    return new Reading(file).read();
  }

  private record Reading(Path file) {
    BudgetFile read() {
      if (!(SettingsFile.parse(file) instanceof Map<?, ?> map)) {
        throw fault("a list of budgets is expected: `budgets:` and one below the other");
      }
      known(map, KEYS, "");
      Object version = map.get("version");
      if (version != null && !version.equals(1)) {
        throw fault("version is " + version + "; this program knows 1");
      }
      if (!(map.get("budgets") instanceof List<?> list) || list.isEmpty()) {
        throw fault("budgets: at least one is expected, each behind a dash");
      }
      List<Budget> budgets = new ArrayList<>();
      for (int i = 0; i < list.size(); i++) {
        String where = "budget " + (i + 1) + ": ";
        if (!(list.get(i) instanceof Map<?, ?> one)) {
          throw fault(where + "lines of `name: value` are expected");
        }
        budgets.add(budget(one, where));
      }
      return new BudgetFile(actions(map.get("actions")), budgets);
    }

    private List<Integer> actions(Object value) {
      List<Integer> actions = new ArrayList<>();
      List<?> all =
          value == null ? List.of() : value instanceof List<?> list ? list : List.of(value);
      for (Object one : all) {
        if (!(one instanceof Integer number) || number < 1) {
          throw fault("actions: " + one + " is no whole number from 1 on");
        }
        actions.add(number);
      }
      return actions;
    }

    private Budget budget(Map<?, ?> one, String where) {
      known(one, BUDGET_KEYS, where);
      Budget.Measure measure = null;
      for (Budget.Measure candidate : Budget.Measure.values()) {
        if (one.containsKey(key(candidate))) {
          if (measure != null) {
            throw fault(
                where
                    + key(measure)
                    + " and "
                    + key(candidate)
                    + " are two budgets: give each its own dash");
          }
          measure = candidate;
        }
      }
      if (measure == null) {
        throw fault(where + "one of heap, count, retained, growth, savings is needed");
      }
      String selection = text(one, "select");
      String kind = text(one, "kind");
      boolean ofObjects = measure == Budget.Measure.COUNT || measure == Budget.Measure.RETAINED;
      if (ofObjects == selection.isEmpty()) {
        throw fault(
            where
                + (ofObjects
                    ? key(measure) + " needs `select:` with a type or a selection"
                    : key(measure) + " takes no `select:`"));
      }
      if (!kind.isEmpty() && measure != Budget.Measure.SAVINGS) {
        throw fault(where + "`kind:` belongs to savings only");
      }
      String name = text(one, "name");
      String usual = key(measure) + (selection.isEmpty() ? "" : " of " + selection);
      return new Budget(
          name.isEmpty() ? usual + (kind.isEmpty() ? "" : ": " + kind) : name,
          measure,
          selection,
          kind,
          limit(one.get(key(measure)), where + key(measure), measure.inBytes()));
    }

    private static String key(Budget.Measure measure) {
      return measure.name().toLowerCase(Locale.ROOT);
    }

    private static String text(Map<?, ?> map, String key) {
      Object value = map.get(key);
      return value == null ? "" : String.valueOf(value).strip();
    }

    private long limit(Object value, String where, boolean bytes) {
      Matcher size = SIZE.matcher(String.valueOf(value).replace("_", "").strip());
      if (!size.matches() || !bytes && size.group(2) != null) {
        throw fault(
            where
                + ": "
                + value
                + " is no "
                + (bytes ? "size; sizes look like 300, 10kB or 1.5MB" : "count"));
      }
      double number = Double.parseDouble(size.group(1));
      String unit = size.group(2) == null ? "b" : size.group(2).toLowerCase(Locale.ROOT);
      return Math.round(number * Math.pow(1000, UNITS.indexOf(unit)));
    }

    private void known(Map<?, ?> map, Set<String> keys, String where) {
      for (Object key : map.keySet()) {
        if (!keys.contains(String.valueOf(key))) {
          throw fault(
              where
                  + "there is no \""
                  + key
                  + "\"; there are: "
                  + String.join(", ", keys.stream().sorted().toList()));
        }
      }
    }

    private UsageException fault(String text) {
      return new UsageException(file + ": " + text);
    }
  }
}
