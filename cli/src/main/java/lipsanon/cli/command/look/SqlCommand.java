package lipsanon.cli.command.look;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import lipsanon.cli.Context;
import lipsanon.cli.ExitCodes;
import lipsanon.cli.UsageException;
import lipsanon.cli.command.LimitOption;
import lipsanon.cli.command.NoEngine;
import lipsanon.cli.command.ScratchFolder;
import lipsanon.cli.command.SnapshotCommand;
import lipsanon.cli.explore.SqlPrompt;
import lipsanon.cli.term.CsvRenderer;
import lipsanon.cli.term.SafeText;
import lipsanon.cli.term.Table;
import lipsanon.cli.term.View;
import lipsanon.fleet.FleetTables;
import lipsanon.fleet.TableViews;
import lipsanon.index.Snapshot;
import lipsanon.label.TypeFilter;
import lipsanon.sql.SqlSession;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Questions in SQL. */
@Command(
    name = "sql",
    description =
        "Ask in SQL over the columns of one snapshot or several: tables objects, types, refs, roots,"
            + " findings; functions path_to_root(id), children(id), referrers(id). Of a folder of fleet"
            + " tables: snapshots, types, keepers, holders, findings. Without a question a prompt.")
public final class SqlCommand extends SnapshotCommand {
  private static final int ROWS = 50;

  @Parameters(
      index = "0",
      arity = "1..*",
      paramLabel = "SNAPSHOT... [QUESTION]",
      hideParamSyntax = true,
      description = "Snapshots, and a question if it has a space in it.")
  private List<String> words;

  @Option(
      names = "--parquet",
      paramLabel = "FILE",
      description = "Write the result to this file, as Parquet.")
  private Path parquet;

  @Option(names = "--force", description = "Overwrite a file that is there.")
  private boolean force;

  @Mixin private LimitOption limit;

  /** The command. */
  public SqlCommand(Context context) {
    super(context);
  }

  /** The answer: rows of texts, whole numbers, other numbers, null. */
  record Result(List<String> columns, List<List<Object>> rows, boolean complete) {}

  @Override
  public Integer call() throws Exception {
    try {
      return ask();
    } catch (NoClassDefFoundError | UnsatisfiedLinkError e) {
      throw NoEngine.on("sql", ": write tables with `lipsanon export`, and ask them elsewhere");
    }
  }

  private int ask() throws Exception {
    String last = words.get(words.size() - 1);
    boolean asked = words.size() > 1 && last.strip().contains(" ") && !Files.exists(Path.of(last));
    List<String> files = asked ? words.subList(0, words.size() - 1) : words;
    if (parquet != null && !asked) {
      throw new UsageException("--parquet needs a question");
    }
    if (parquet != null && Files.exists(parquet) && !force) {
      throw new UsageException(parquet + " is there already; give another name or --force");
    }
    List<Snapshot> snapshots = new ArrayList<>();
    Path fleet =
        files.size() == 1 && Files.isDirectory(Path.of(files.get(0))) ? fleet(files) : null;
    try (ScratchFolder scratch = ScratchFolder.of("sql")) {
      if (fleet == null) {
        openAll(files.stream().map(Path::of).toList(), snapshots);
      }
      long memory = Math.max(128L << 20, Runtime.getRuntime().maxMemory() / 2);
      SqlSession.Options options =
          new SqlSession.Options(
              new TypeFilter(null, minePackages(), false),
              memory,
              scratch.path(),
              parquet == null ? null : parquet.toAbsolutePath());
      try (SqlSession session =
          fleet == null
              ? SqlSession.open(snapshots, options)
              : SqlSession.open(on -> TableViews.create(on, fleet), fleet, options)) {
        if (asked) {
          answer(session, last);
        } else {
          new SqlPrompt(context, session.words(), question -> told(session, question)).run();
        }
      }
    } catch (SQLException e) {
      throw new UsageException("sql: " + message(e));
    } finally {
      for (Snapshot snapshot : snapshots) {
        snapshot.close();
      }
    }
    return ExitCodes.FINE;
  }

  private static Path fleet(List<String> files) {
    Path folder = Path.of(files.get(0));
    if (!FleetTables.isFleet(folder)) {
      throw new UsageException(
          folder + " is a folder: give snapshots, or a folder of tables that `fleet` wrote");
    }
    return folder;
  }

  private void told(SqlSession session, String question) {
    try {
      answer(session, question);
    } catch (SQLException e) {
      context.err().println("lipsanon: sql: " + message(e));
    } catch (IOException e) {
      context.err().println("lipsanon: " + SafeText.message(e.getMessage()));
    }
    context.out().flush();
    context.err().flush();
  }

  /** The engine's own words in one line: what is wrong, and where in the question. */
  private static String message(SQLException e) {
    String text = String.valueOf(e.getMessage()).strip();
    text = text.replaceFirst("(?s)^Invalid Input Error: Attempting to execute.*?Error: ", "");
    text = text.replaceFirst("^[A-Z]\\w+ Error: java\\.[\\w.]+: ", "");
    String first = text.lines().findFirst().orElse("");
    String place =
        text.lines().filter(line -> line.matches("LINE \\d+: .*")).findFirst().orElse("");
    return SafeText.message(place.isEmpty() ? first : first + " (" + place + ")");
  }

  /** Keeps what a result's columns are. */
  private abstract static class Gathered implements SqlSession.Sink {
    private final List<String> columns;
    private final List<Boolean> numbers;

    Gathered(List<String> columns, List<Boolean> numbers) {
      this.columns = columns;
      this.numbers = numbers;
    }

    @Override
    public final void columns(List<String> names, List<Boolean> are) {
      columns.addAll(names);
      numbers.addAll(are);
    }
  }

  private void answer(SqlSession session, String question) throws SQLException, IOException {
    if (parquet != null) {
      long rows = session.parquet(question, parquet.toAbsolutePath());
      context.out().println("Wrote " + rows + " rows to " + parquet + ".");
      return;
    }
    if (csv()) {
      stream(session, question);
      return;
    }
    int most = json() ? Integer.MAX_VALUE : limit.or(ROWS);
    List<String> columns = new ArrayList<>();
    List<Boolean> numbers = new ArrayList<>();
    List<List<Object>> rows = new ArrayList<>();
    boolean[] more = {false};
    session.ask(
        question,
        new Gathered(columns, numbers) {
          @Override
          public boolean row(List<Object> values) {
            more[0] = rows.size() == most;
            if (!more[0]) {
              rows.add(values);
            }
            return !more[0];
          }
        });
    Result result = new Result(columns, rows, !more[0]);
    print("sql", result, () -> view(result, numbers));
  }

  private void stream(SqlSession session, String question) throws SQLException, IOException {
    CsvRenderer csv = new CsvRenderer(context.out(), raw());
    Table[] head = {null};
    boolean[] first = {true};
    List<Boolean> numbers = new ArrayList<>();
    List<String> columns = new ArrayList<>();
    session.ask(
        question,
        new Gathered(columns, numbers) {
          @Override
          public boolean row(List<Object> values) throws IOException {
            head[0] = table(columns, numbers);
            head[0].row(cells(values));
            csv.rows(head[0], first[0]);
            first[0] = false;
            return !context.stop().getAsBoolean();
          }
        });
    if (first[0] && !columns.isEmpty()) {
      csv.rows(table(columns, numbers), true);
    }
    context.out().flush();
  }

  private static Table table(List<String> columns, List<Boolean> numbers) {
    Table table = new Table();
    for (int c = 0; c < columns.size(); c++) {
      if (numbers.get(c)) {
        table.number(columns.get(c));
      } else {
        table.longText(columns.get(c));
      }
    }
    return table;
  }

  private static Object[] cells(List<Object> values) {
    return values.stream()
        .map(
            value ->
                value == null
                    ? ""
                    : value instanceof Double number
                        ? new Table.Cell(
                            String.format(Locale.ROOT, "%,.3f", number), number.toString())
                        : value)
        .toArray();
  }

  private static View view(Result result, List<Boolean> numbers) {
    View view = new View();
    if (result.columns().isEmpty()) {
      return view.line("Done.");
    }
    Table table = table(result.columns(), numbers);
    for (List<Object> row : result.rows()) {
      table.row(cells(row));
    }
    view.table(table);
    if (result.rows().isEmpty()) {
      view.line("No rows.");
    }
    return result.complete()
        ? view
        : view.line("There are more rows: --limit N shows more, --csv all of them.");
  }
}
