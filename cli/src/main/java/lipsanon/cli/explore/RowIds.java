package lipsanon.cli.explore;

import java.util.ArrayList;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import lipsanon.cli.term.Table;
import lipsanon.cli.term.View;

/** Numbers the rows of an answer that have identifiers, so that {@code show 3} means the third. */
final class RowIds {
  private static final Pattern NUMBER = Pattern.compile("[1-9][0-9]{0,5}");

  private List<String> ids = List.of();

  /** Adds row numbers to the tables of an answer, and remembers what they stand for. */
  View number(View view) {
    List<String> found = new ArrayList<>();
    View numbered = view.map(block -> block instanceof Table table ? number(table, found) : block);
    if (!found.isEmpty()) {
      ids = found;
    }
    return numbered;
  }

  private static Table number(Table table, List<String> found) {
    int id = -1;
    for (int c = 0; c < table.columns().size(); c++) {
      if (table.columns().get(c).name().equals("id")) {
        id = c;
      }
    }
    if (id < 0) {
      return table;
    }
    List<String> numbers = new ArrayList<>();
    for (List<String> row : table.plainRows()) {
      boolean has = !row.get(id).isEmpty();
      if (has) {
        found.add(row.get(id));
      }
      numbers.add(has ? Integer.toString(found.size()) : "");
    }
    return table.withFirst("#", numbers);
  }

  /** Puts identifiers in place of row numbers, where a command takes an object. */
  String meant(String line) {
    List<String> words = Words.of(line);
    if (words.size() < 2) {
      return line;
    }
    boolean first = List.of("show", "why", "refs", "sift", "keepers").contains(words.get(0));
    String last = words.get(words.size() - 1);
    if (first && words.size() == 2 && NUMBER.matcher(last).matches()) {
      return words.get(0) + " " + id(last);
    }
    Matcher under = Pattern.compile("(--under)[ =]([1-9][0-9]{0,5})(?=\\s|$)").matcher(line);
    return under.find()
        ? line.substring(0, under.start())
            + "--under "
            + id(under.group(2))
            + line.substring(under.end())
        : line;
  }

  private String id(String number) {
    int at = Integer.parseInt(number);
    return at <= ids.size() ? ids.get(at - 1) : number;
  }
}
