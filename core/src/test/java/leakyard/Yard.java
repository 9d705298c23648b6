package leakyard;

import com.sun.management.HotSpotDiagnosticMXBean;
import java.io.BufferedReader;
import java.io.InputStreamReader;
import java.lang.management.ManagementFactory;
import java.nio.charset.StandardCharsets;

/**
 * Runs one of the small programs of this package, told what to do line by line: {@code act N} does
 * its action N times, {@code dump FILE} dumps the heap, and every line is answered with {@code
 * done}; {@code release} empties the holder at fault.
 */
public final class Yard {
  private Yard() {}

  /** Runs the program named by the first argument. */
  public static void main(String[] args) throws Exception {
    Program program =
        (Program) Class.forName("leakyard." + args[0]).getDeclaredConstructor().newInstance();
    HotSpotDiagnosticMXBean diagnostic =
        ManagementFactory.getPlatformMXBean(HotSpotDiagnosticMXBean.class);
    BufferedReader in =
        new BufferedReader(new InputStreamReader(System.in, StandardCharsets.UTF_8));
    System.out.println("ready");
    int done = 0;
    for (String line = in.readLine(); line != null; line = in.readLine()) {
      if (line.startsWith("act ")) {
        for (int left = Integer.parseInt(line.substring(4)); left > 0; left--) {
          program.act(done++);
        }
      } else if (line.equals("release")) {
        program.release();
      } else if (line.startsWith("dump ")) {
        System.gc();
        diagnostic.dumpHeap(line.substring(5), true);
      }
      System.out.println("done");
    }
    System.exit(0);
  }
}
