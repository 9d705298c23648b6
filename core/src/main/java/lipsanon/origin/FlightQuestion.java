package lipsanon.origin;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.function.Predicate;
import lipsanon.array.IntList;
import lipsanon.index.Recording;
import lipsanon.label.Families;
import lipsanon.live.Flight;

/** Where a Java VM allocated, by the samples of its own event recorder. */
public final class FlightQuestion {
  /** With fewer samples no percentage is worth its digits. */
  private static final int FEW = 30;

  private final Flight flight;
  private final Options options;

  /**
   * What to answer.
   *
   * @param types which types to answer for
   * @param selection the same in words, "" for all
   * @param own whether a class is the user's own, by its name
   * @param origins functions and stacks
   */
  public record Options(
      Predicate<String> types,
      String selection,
      Predicate<String> own,
      OriginsQuestion.Options origins) {
    /** For all types. */
    public static Options all(Predicate<String> own, OriginsQuestion.Options origins) {
      return new Options(type -> true, "", own, origins);
    }
  }

  private FlightQuestion(Flight flight, Options options) {
    this.flight = flight;
    this.options = options;
  }

  /** Answers. */
  public static FlightAnswer ask(String file, Flight flight, Options options) {
    return new FlightQuestion(flight, options).answer(file);
  }

  private FlightAnswer answer(String file) {
    List<Flight.Allocation> wanted = new ArrayList<>();
    for (Flight.Allocation sample : flight.allocations()) {
      long at = sample.atMillis() - flight.beginMillis();
      boolean within = at >= options.origins().fromMillis() && at < options.origins().toMillis();
      if (within && options.types().test(sample.type())) {
        wanted.add(sample);
      }
    }
    List<Flight.Survivor> alive = new ArrayList<>();
    for (Flight.Survivor survivor : flight.survivors()) {
      long at = survivor.allocatedMillis() - flight.beginMillis();
      boolean within =
          !options.origins().window()
              || at >= options.origins().fromMillis() && at < options.origins().toMillis();
      if (within && options.types().test(survivor.type())) {
        alive.add(survivor);
      }
    }
    OriginsAnswer origins =
        OriginsQuestion.ofSamples(file, recording(wanted), options.origins())
            .withSelection(options.selection());
    return new FlightAnswer(
        origins,
        exactness(wanted),
        types(wanted, alive),
        threads(wanted),
        Survivors.rows(alive, options.own()),
        alive.size(),
        flight.partial());
  }

  private static String exactness(List<Flight.Allocation> samples) {
    int n = samples.size();
    if (n == 0) {
      return "No allocation was sampled.";
    }
    if (n < FEW) {
      return "Only " + n + " samples: the figures say no more than what is common.";
    }
    return String.format(
        Locale.ROOT,
        "Estimated from %,d samples: a share of 50 %% is exact to about %.0f %% of itself, one of"
            + " 5 %% to about %.0f %%; single large arrays are undercounted.",
        n,
        100 / Math.sqrt(n * 0.5),
        100 / Math.sqrt(n * 0.05));
  }

  private List<FlightAnswer.TypeRow> types(
      List<Flight.Allocation> samples, List<Flight.Survivor> alive) {
    Map<String, long[]> sums = new HashMap<>();
    long all = 0;
    for (Flight.Allocation sample : samples) {
      long[] sum = sums.computeIfAbsent(Families.of(sample.type()), key -> new long[3]);
      sum[0]++;
      sum[1] += sample.weightBytes();
      all += sample.weightBytes();
    }
    for (Flight.Survivor survivor : alive) {
      sums.computeIfAbsent(Families.of(survivor.type()), key -> new long[3])[2]++;
    }
    double total = Math.max(1, all);
    List<FlightAnswer.TypeRow> rows = new ArrayList<>();
    sums.forEach(
        (type, sum) ->
            rows.add(new FlightAnswer.TypeRow(type, sum[0], sum[1], sum[1] / total, sum[2])));
    rows.sort(
        Comparator.comparingLong(FlightAnswer.TypeRow::bytes)
            .thenComparingLong(FlightAnswer.TypeRow::aliveSamples)
            .reversed());
    return List.copyOf(rows.subList(0, Math.min(options.origins().limit(), rows.size())));
  }

  private List<FlightAnswer.ThreadRow> threads(List<Flight.Allocation> samples) {
    Map<String, long[]> sums = new HashMap<>();
    long all = 0;
    for (Flight.Allocation sample : samples) {
      long[] sum = sums.computeIfAbsent(sample.thread(), key -> new long[2]);
      sum[0]++;
      sum[1] += sample.weightBytes();
      all += sample.weightBytes();
    }
    double total = Math.max(1, all);
    List<FlightAnswer.ThreadRow> rows = new ArrayList<>();
    sums.forEach(
        (thread, sum) ->
            rows.add(new FlightAnswer.ThreadRow(thread, sum[0], sum[1], sum[1] / total)));
    rows.sort(Comparator.comparingLong(FlightAnswer.ThreadRow::bytes).reversed());
    return List.copyOf(rows.subList(0, Math.min(options.origins().limit(), rows.size())));
  }

  /** The samples as a tree of stacks. */
  private Recording recording(List<Flight.Allocation> samples) {
    Tree tree = new Tree(options.own());
    for (Flight.Allocation sample : samples) {
      int node = tree.node(sample.stack());
      tree.count[node]++;
      tree.bytes[node] += sample.weightBytes();
    }
    int n = tree.parent.size();
    return new Recording(
        "samples of the VM's event recorder",
        true,
        List.copyOf(tree.frames.keySet()),
        tree.parent.toArray(),
        tree.frame.toArray(),
        java.util.Arrays.copyOf(tree.count, n),
        java.util.Arrays.copyOf(tree.bytes, n),
        new long[n],
        new long[n],
        new long[] {Math.max(1, flight.endMillis() - flight.beginMillis())},
        new long[] {0},
        new long[0]);
  }

  /** The frame of the user's own that is nearest to an allocation, or the innermost; or null. */
  static Recording.Frame place(List<Flight.Frame> stack, Predicate<String> own) {
    for (Flight.Frame frame : stack) {
      if (own.test(frame.type())) {
        return frame(frame, own);
      }
    }
    return stack.isEmpty() ? null : frame(stack.get(0), own);
  }

  static Recording.Frame frame(Flight.Frame frame, Predicate<String> own) {
    if (frame.line() < 0) {
      return new Recording.Frame(
          frame.type() + "." + frame.method(), "", 0, 0, !own.test(frame.type()));
    }
    if (!frame.file().isEmpty()) {
      return new Recording.Frame(
          frame.type() + "." + frame.method(),
          frame.file().replace('\\', '/'),
          frame.line(),
          0,
          !own.test(frame.type()));
    }
    // the recorder does not tell the file; by custom it is called like the outermost class
    String outer = frame.type().replaceAll("\\$.*", "").replace('.', '/');
    return new Recording.Frame(
        frame.type() + "." + frame.method(),
        outer + ".java",
        Math.max(0, frame.line()),
        0,
        !own.test(frame.type()));
  }

  /** Merges stacks. */
  private static final class Tree {
    final Predicate<String> own;
    final Map<Recording.Frame, Integer> frames = new LinkedHashMap<>();
    final IntList parent = new IntList();
    final IntList frame = new IntList();
    final Map<Long, Integer> nodes = new HashMap<>();
    long[] count = new long[256];
    long[] bytes = new long[256];

    Tree(Predicate<String> own) {
      this.own = own;
      add(-1, number(new Recording.Frame("(all)", "", 0, 0, true)));
    }

    private int number(Recording.Frame one) {
      Integer known = frames.get(one);
      if (known != null) {
        return known;
      }
      frames.put(one, frames.size());
      return frames.size() - 1;
    }

    private int add(int above, int number) {
      int node = parent.size();
      parent.add(above);
      frame.add(number);
      if (node == count.length) {
        count = java.util.Arrays.copyOf(count, 2 * node);
        bytes = java.util.Arrays.copyOf(bytes, 2 * node);
      }
      return node;
    }

    int node(List<Flight.Frame> stack) {
      int at = 0;
      for (int i = stack.size() - 1; i >= 0; i--) {
        int number = number(frame(stack.get(i), own));
        int above = at;
        at = nodes.computeIfAbsent((long) at << 32 | number, key -> add(above, number));
      }
      return at;
    }
  }
}
