package lipsanon.fleet;

import java.io.IOException;
import java.io.PrintStream;
import java.nio.file.Path;
import java.util.regex.Pattern;

/**
 * The process of one task: it reads a {@link Job} from its standard input and writes the rows to
 * its standard output. A file that harms it harms nothing else. Ends with 0, or with 3 after one
 * line that says what is wrong with the file.
 */
public final class TaskMain {
  /** The exit code where the snapshot is at fault, not the process. */
  static final int BAD_INPUT = 3;

  private TaskMain() {}

  /** Runs; takes no arguments. */
  public static void main(String[] args) throws IOException {
    PrintStream out = System.out;
    // nothing but rows may come out there
    System.setOut(System.err);
    Job job = Job.read(System.in);
    try {
      byte[] rows =
          Reduction.of(
              job.item(),
              Path.of(job.file()),
              new Reduction.Options(
                  Path.of(job.scratch()), job.memoryBytes(), job.hidingKey(), job.mine()));
      out.write(rows);
      out.flush();
    } catch (OutOfMemoryError e) {
      System.err.println("needs more memory than the task was given");
      System.exit(BAD_INPUT);
    } catch (Exception e) {
      String message = String.valueOf(e.getMessage());
      // files lie elsewhere while they are looked at: the name is told by the row
      System.err.println(
          message
              .replaceFirst("^" + Pattern.quote(job.file()) + ":? ?", "")
              .replaceAll("\\s+", " "));
      System.exit(BAD_INPUT);
    }
  }
}
