package lipsanon.cli.term;

import java.util.ArrayList;
import java.util.List;

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

  /** All parts in order. */
  public List<Block> blocks() {
    return blocks;
  }
}
