package lipsanon.cli.term;

import java.util.ArrayList;
import java.util.List;
import java.util.function.UnaryOperator;
import java.util.regex.Pattern;

/** An answer as a person reads it: the answer first, then the evidence, then what to run next. */
public final class View {
  private final List<Block> blocks = new ArrayList<>();
  private Table main;

  /** Empty. */
  public View() {}

  /** A part of a view. */
  public sealed interface Block permits Heading, Line, Warning, Table, Next {}

  /** Names what follows. */
  public record Heading(String text) implements Block {}

  /** A line of text; long ones are wrapped. */
  public record Line(String text) implements Block {}

  /** A line that should not be overlooked. */
  public record Warning(String text) implements Block {}

  /** Commands worth running next, each with what it is for. */
  public record Next(List<String[]> commands) implements Block {}

  /** Adds a heading. */
  public View heading(String text) {
    blocks.add(new Heading(text));
    return this;
  }

  /** Adds a line. */
  public View line(String text) {
    blocks.add(new Line(text));
    return this;
  }

  /** Adds a warning. */
  public View warning(String text) {
    blocks.add(new Warning(text));
    return this;
  }

  /** Adds a table. */
  public View table(Table table) {
    blocks.add(table);
    return this;
  }

  /** Says which table is the answer for programs; it need not be shown to people. */
  public View main(Table table) {
    main = table;
    return this;
  }

  /** The table that is the answer for programs, or null. */
  public Table main() {
    return main;
  }

  /** Adds a command worth running next. */
  public View next(String command, String purpose) {
    if (!blocks.isEmpty() && blocks.get(blocks.size() - 1) instanceof Next next) {
      next.commands.add(new String[] {command, purpose});
    } else {
      List<String[]> commands = new ArrayList<>();
      commands.add(new String[] {command, purpose});
      blocks.add(new Next(commands));
    }
    return this;
  }

  /** The same with each part changed. */
  public View map(UnaryOperator<Block> change) {
    View changed = new View();
    blocks.forEach(block -> changed.blocks.add(change.apply(block)));
    changed.main = main;
    return changed;
  }

  /** The same with what it suggests to run as it is typed inside of one snapshot. */
  public View within(String program, String file) {
    return map(
        block -> {
          if (!(block instanceof Next next)) {
            return block;
          }
          List<String[]> commands = new ArrayList<>();
          for (String[] command : next.commands()) {
            String line = command[0];
            if (line.startsWith(program + " ")) {
              line =
                  line.substring(program.length() + 1).replaceFirst(" " + Pattern.quote(file), "");
            }
            commands.add(new String[] {line, command[1]});
          }
          return new Next(commands);
        });
  }

  /** All parts in order. */
  public List<Block> blocks() {
    return blocks;
  }
}
