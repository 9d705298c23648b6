package lipsanon.cli.command.look;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.function.Predicate;
import lipsanon.cli.UsageException;
import lipsanon.cli.term.Format;
import lipsanon.cli.term.Table;
import lipsanon.label.ObjectRow;

/** Which columns a list of objects shows. */
final class SiftColumns {
  private static final List<String> USUAL = List.of("retained", "shallow", "id", "object", "held");

  private static final Set<String> ALL =
      Set.of(
          "retained",
          "shallow",
          "share",
          "id",
          "object",
          "type",
          "label",
          "held",
          "depth",
          "strength",
          "loader");

  private final List<String> names;

  SiftColumns(List<String> wanted) {
    names = new ArrayList<>();
    for (String name : wanted == null ? USUAL : wanted) {
      String small = name.strip().toLowerCase(Locale.ROOT);
      if (!ALL.contains(small)) {
        throw new UsageException(
            "--columns: there is no column "
                + name
                + "; there are: "
                + String.join(", ", sorted()));
      }
      names.add(small);
    }
  }

  private static List<String> sorted() {
    return ALL.stream().sorted().toList();
  }

  Table table(List<ObjectRow> rows, Format format, Predicate<String> own) {
    Table table = new Table();
    for (String name : names) {
      switch (name) {
        case "retained", "shallow", "share", "depth" -> table.number(name);
        case "held" -> table.longText("held by");
        case "object", "type", "label", "loader" -> table.longText(name);
        default -> table.text(name);
      }
    }
    for (ObjectRow row : rows) {
      table.row(names.stream().map(name -> cell(name, row, format)).toArray());
      table.own(own.test(row.id()));
    }
    return table;
  }

  private static Object cell(String name, ObjectRow row, Format format) {
    return switch (name) {
      case "retained" -> format.cell(row.retainedBytes());
      case "shallow" -> format.cell(row.shallowBytes());
      case "share" -> Format.share(row.share());
      case "id" -> row.id();
      case "object" -> KeepersCommand.name(row) + (row.closed() ? " (closed, still held)" : "");
      case "type" -> row.type();
      case "label" -> row.label();
      case "held" -> row.heldBy();
      case "depth" -> row.depth();
      case "strength" -> row.strength();
      default -> row.loader();
    };
  }
}
