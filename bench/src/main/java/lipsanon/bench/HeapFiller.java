package lipsanon.bench;

import com.sun.management.HotSpotDiagnosticMXBean;
import java.io.IOException;
import java.lang.management.ManagementFactory;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedList;
import java.util.List;
import java.util.Map;
import java.util.SplittableRandom;
import java.util.TreeMap;

/**
 * Fills its own heap with a mixture like that of a service (records with texts, lists, maps, trees,
 * chains, shared values, references across) and has the VM dump it. Prints the seconds that the
 * dump took: the yardstick for our own reading.
 */
public final class HeapFiller {
  private HeapFiller() {}

  /** One line of a manifest. */
  static final class Line {
    final String what;
    final Integer amount;
    final double weight;

    Line(String what, Integer amount, double weight) {
      this.what = what;
      this.amount = amount;
      this.weight = weight;
    }
  }

  /** One vessel call. */
  static final class Call {
    final String vessel;
    final long arrived;
    final List<Line> lines = new ArrayList<>();
    Map<String, Object> notes;
    TreeMap<Integer, String> tides;
    LinkedList<Integer> pilots;
    Call previous;
    Call other;
    byte[] stamp;

    Call(String vessel, long arrived) {
      this.vessel = vessel;
      this.arrived = arrived;
    }
  }

  /**
   * Runs.
   *
   * @param args count of objects to make, and the file to dump to
   */
  public static void main(String[] args) throws IOException {
    long goal = Long.parseLong(args[0]);
    Path file = Path.of(args[1]);
    SplittableRandom random = new SplittableRandom(7);
    String[] cargo = new String[500];
    for (int i = 0; i < cargo.length; i++) {
      cargo[i] = "cargo " + i;
    }
    Map<String, Call> calls = new HashMap<>();
    List<Call> order = new ArrayList<>();
    ArrayDeque<Call> queue = new ArrayDeque<>();
    long made = 0;
    for (int i = 0; made < goal; i++) {
      Call call = new Call("vessel " + i, 1_000_000_007L * i);
      made += 7;
      int lines = random.nextInt(8);
      for (int k = 0; k < lines; k++) {
        boolean own = random.nextInt(3) == 0;
        String what = own ? "lot " + i + "/" + k : cargo[random.nextInt(cargo.length)];
        call.lines.add(new Line(what, random.nextInt(5000), random.nextDouble()));
        made += own ? 4 : 2;
      }
      if (random.nextInt(4) == 0) {
        call.notes = new HashMap<>();
        for (int k = random.nextInt(5); k >= 0; k--) {
          call.notes.put("note " + k, new int[random.nextInt(12)]);
          made += 4;
        }
        made += 2;
      }
      if (random.nextInt(6) == 0) {
        call.tides = new TreeMap<>();
        for (int k = random.nextInt(6); k >= 0; k--) {
          call.tides.put(200 + random.nextInt(9999), cargo[k]);
          made += 2;
        }
        made++;
      }
      if (random.nextInt(6) == 0) {
        call.pilots = new LinkedList<>();
        for (int k = random.nextInt(6); k >= 0; k--) {
          call.pilots.add(1000 + k);
          made += 2;
        }
        made++;
      }
      if (random.nextInt(5) == 0) {
        call.stamp = new byte[random.nextInt(200)];
        made++;
      }
      if (!order.isEmpty()) {
        call.previous = random.nextInt(3) == 0 ? order.get(order.size() - 1) : null;
        call.other = order.get(random.nextInt(order.size()));
      }
      order.add(call);
      calls.put(call.vessel, call);
      if (random.nextInt(9) == 0) {
        queue.add(call);
      }
    }
    Files.deleteIfExists(file);
    HotSpotDiagnosticMXBean diagnostic =
        ManagementFactory.getPlatformMXBean(HotSpotDiagnosticMXBean.class);
    long before = System.nanoTime();
    diagnostic.dumpHeap(file.toString(), true);
    double seconds = (System.nanoTime() - before) / 1e9;
    System.out.printf("%.3f%n", seconds);
    if (calls.size() + order.size() + queue.size() == 0) {
      throw new IllegalStateException("nothing was made");
    }
  }
}
