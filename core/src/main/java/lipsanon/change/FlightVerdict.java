package lipsanon.change;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.function.Predicate;
import lipsanon.holder.Finding;
import lipsanon.label.Families;
import lipsanon.label.TypeFilter;
import lipsanon.live.Flight;
import lipsanon.live.HeapSeries;
import lipsanon.live.LightSnapshot;
import lipsanon.origin.FlightAnswer;
import lipsanon.origin.FlightQuestion;
import lipsanon.origin.OriginsQuestion;

/**
 * What is likely to pile up, told without any snapshot.
 *
 * <p>Where live objects were counted during the recording, types that became more from count to
 * count pile up. Without counts it is the ages of the sampled survivors that tell: what leaks has
 * survivors from every part of the recording, a cache that is replaced only young ones, what was
 * loaded once only old ones. Where they were allocated, and by what they are held, the survivors
 * tell, or else the samples of allocations of that type.
 *
 * @param verdict {@code growth}, {@code none} or {@code unclear}
 * @param sentence the same in words
 * @param piles what piles up, the likeliest first
 */
public record FlightVerdict(String verdict, String sentence, List<Pile> piles) {
  /**
   * A type that is likely to pile up.
   *
   * @param type its name
   * @param place the line of the user's own that allocates it, or ""
   * @param script its file
   * @param line in that file, or 0
   * @param heldBy what keeps it, or ""
   * @param counts at each count, or the sampled survivors by quarter of the recording
   * @param counted whether these are counts of all objects; else of samples
   */
  public record Pile(
      String type,
      String place,
      String script,
      int line,
      String heldBy,
      List<Long> counts,
      boolean counted) {}

  private static final int MOST_PILES = 4;
  private static final int PARTS = 4;

  /** Steps from what was sampled to the object that it belongs to. */
  private static final int NEAR = 4;

  /** Survivors in all parts together. */
  private static final int LEAST_SAMPLES = 8;

  /** Each part has at least this share of the average part. */
  private static final double LEAST_PART = 0.35;

  /** Less growth than this over a recording is told from chance by nobody. */
  private static final long LEAST_BYTES = 50_000;

  private static final double LEAST_SHARE = 0.003;

  /**
   * Judges.
   *
   * @param counts taken during the recording, or null
   * @param mine the user's packages
   * @param own whether a class is the user's own
   */
  public static FlightVerdict of(
      Flight flight, HeapSeries counts, TypeFilter mine, Predicate<String> own) {
    List<HeapSeries.Types> live = new ArrayList<>();
    if (counts != null) {
      counts.counts().stream().filter(HeapSeries.Types::live).forEach(live::add);
    }
    return live.size() >= 3 ? counted(flight, counts, live, mine, own) : aged(flight, own);
  }

  private static FlightVerdict counted(
      Flight flight,
      HeapSeries series,
      List<HeapSeries.Types> live,
      TypeFilter mine,
      Predicate<String> own) {
    List<TypeTable> tables = new ArrayList<>();
    for (HeapSeries.Types row : live) {
      LightSnapshot light =
          new LightSnapshot(
              series.runtime(),
              series.program(),
              series.process(),
              row.atMillis(),
              true,
              row.types());
      tables.add(TypeTable.of("", light, mine));
    }
    long least = Math.max(LEAST_BYTES, (long) (live.get(0).shallowBytes() * LEAST_SHARE));
    GrowthAnswer growth = TypesGrowth.ask(tables, new int[tables.size() - 1]);
    long heap = live.get(live.size() - 1).shallowBytes() - live.get(0).shallowBytes();
    List<Pile> piles = new ArrayList<>();
    List<Candidate> candidates = new ArrayList<>();
    growth.findings().forEach(f -> candidates.add(new Candidate(f.what(), f.counts(), f.bytes())));
    for (GrowthAnswer.SetAside aside : growth.setAside()) {
      // what the user's own types consist of has been sampled best
      candidates.add(new Candidate(aside.what(), List.of(), aside.bytes()));
    }
    // of the runtime's types arrays and entries say least: most are the inside of another
    candidates.sort(
        Comparator.comparing((Candidate c) -> !own.test(c.type()))
            .thenComparing(
                c -> !own.test(c.type()) && (c.type().endsWith("[]") || c.type().contains("$"))));
    for (Candidate candidate : candidates) {
      if (piles.size() == MOST_PILES) {
        break;
      }
      boolean mineToo = own.test(candidate.type());
      List<Long> rising = candidate.counts().isEmpty() ? candidate.bytes() : candidate.counts();
      if (mineToo
          ? steady(candidate.counts())
          : candidate.grown() >= least && steady(candidate.bytes())) {
        Pile pile = pile(flight, candidate.type(), rising, own);
        // the recorder itself allocates too, of the runtime's types
        boolean evident = mineToo || pile.line() > 0 && spread(flight, candidate.type(), own);
        if (evident && (mineToo || piles.isEmpty())) {
          piles.add(pile);
        }
      }
    }
    double seconds =
        Math.max(1, live.get(live.size() - 1).atMillis() - live.get(0).atMillis()) / 1000.0;
    return told(piles, heap / seconds);
  }

  /** A type that became more. */
  private record Candidate(String type, List<Long> counts, List<Long> bytes) {
    long grown() {
      return bytes.get(bytes.size() - 1) - bytes.get(0);
    }
  }

  /** Whether survivors of a type come from the beginning and from the end, out of own code. */
  private static boolean spread(Flight flight, String type, Predicate<String> own) {
    long span = Math.max(1, flight.endMillis() - flight.beginMillis());
    boolean early = false;
    boolean late = false;
    for (Flight.Survivor survivor : flight.survivors()) {
      boolean ours =
          Families.of(survivor.type()).equals(type)
              && survivor.stack().stream().anyMatch(frame -> own.test(frame.type()));
      double at = (survivor.allocatedMillis() - flight.beginMillis()) / (double) span;
      early |= ours && at < 0.5;
      late |= ours && at > 0.6;
    }
    return early && late;
  }

  /** Whether it became more in nearly every interval, and goes on to the end. */
  private static boolean steady(List<Long> counts) {
    if (counts.isEmpty()) {
      return false;
    }
    int rises = 0;
    for (int i = 1; i < counts.size(); i++) {
      rises += counts.get(i) > counts.get(i - 1) ? 1 : 0;
    }
    int last = counts.size() - 1;
    long half = counts.get(last) - counts.get(last / 2);
    long all = counts.get(last) - counts.get(0);
    return rises >= counts.size() - 2 && half * 4 >= all && counts.get(last) > counts.get(last - 1);
  }

  private static FlightVerdict told(List<Pile> piles, double bytesPerSecond) {
    if (piles.isEmpty()) {
      return new FlightVerdict(
          "none", "Nothing piles up, as far as this recording tells.", List.of());
    }
    Pile first = piles.get(0);
    String rate =
        bytesPerSecond <= 0
            ? ""
            : String.format(
                Locale.ROOT, " (what survives rises by %.1f kB a second)", bytesPerSecond / 1000);
    return new FlightVerdict(
        "growth",
        first.type()
            + " is likely to pile up"
            + (first.place().isEmpty() ? "" : ", allocated in " + first.place())
            + (first.heldBy().isEmpty() ? "" : ", held by " + first.heldBy())
            + rate
            + ".",
        piles);
  }

  /** Adds to what grew over a series the lines that allocate it, by a recording made meanwhile. */
  public static GrowthAnswer join(GrowthAnswer answer, Flight flight, Predicate<String> own) {
    List<GrowthAnswer.Origin> origins = new ArrayList<>();
    for (Finding finding : answer.findings()) {
      Pile pile = pile(flight, finding.what(), finding.counts(), own);
      if (pile.line() > 0 && pile.place().startsWith(ownStem(pile, own))) {
        origins.add(
            new GrowthAnswer.Origin(finding.what(), pile.place(), pile.script(), pile.line()));
      }
    }
    return answer.withOrigins(origins);
  }

  /** The class of a pile's place, if that is the user's own; else what no place begins with. */
  private static String ownStem(Pile pile, Predicate<String> own) {
    int end = pile.place().indexOf(" (");
    String method = end < 0 ? pile.place() : pile.place().substring(0, end);
    int dot = method.lastIndexOf('.');
    String type = dot < 0 ? method : method.substring(0, dot);
    return own.test(type) ? type : "\0";
  }

  private static Pile pile(Flight flight, String type, List<Long> counts, Predicate<String> own) {
    OriginsQuestion.Options options =
        new OriginsQuestion.Options(false, false, 0, Long.MAX_VALUE, 5);
    FlightAnswer answer =
        FlightQuestion.ask(
            "",
            flight,
            new FlightQuestion.Options(name -> Families.of(name).equals(type), type, own, options));
    for (FlightAnswer.SurvivorRow row : answer.survivors()) {
      if (row.line() > 0) {
        return new Pile(type, row.place(), row.script(), row.line(), row.heldBy(), counts, true);
      }
    }
    // small objects are seldom sampled themselves: what hangs on them was allocated beside them
    FlightAnswer beside =
        FlightQuestion.ask("", hanging(flight, type), FlightQuestion.Options.all(own, options));
    for (FlightAnswer.SurvivorRow row : beside.survivors()) {
      if (row.line() > 0) {
        return new Pile(type, row.place(), row.script(), row.line(), row.heldBy(), counts, true);
      }
    }
    var functions = answer.origins().functions();
    if (functions.isEmpty()) {
      return new Pile(type, "", "", 0, "", counts, true);
    }
    var f = functions.get(0);
    String text =
        new lipsanon.index.Recording.Frame(f.function(), f.script(), f.line(), f.column(), false)
            .text();
    return new Pile(type, text, f.script(), f.line(), "", counts, true);
  }

  /** The survivors that an object of a type keeps. */
  private static Flight hanging(Flight flight, String type) {
    List<Flight.Survivor> some = new ArrayList<>();
    for (Flight.Survivor survivor : flight.survivors()) {
      if (survivor.chain().stream()
          .limit(NEAR)
          .anyMatch(link -> Families.of(link.holder()).equals(type))) {
        some.add(survivor);
      }
    }
    return new Flight(
        flight.beginMillis(), flight.endMillis(), List.of(), some, List.of(), flight.partial());
  }

  /** By the ages of survivors alone. */
  private static FlightVerdict aged(Flight flight, Predicate<String> own) {
    long span = flight.endMillis() - flight.beginMillis();
    if (span < 5_000 || flight.survivors().size() < LEAST_SAMPLES) {
      return new FlightVerdict(
          "unclear",
          "Too few survivors were sampled to tell whether anything piles up.",
          List.of());
    }
    Map<String, long[]> parts = new HashMap<>();
    for (Flight.Survivor survivor : flight.survivors()) {
      long at = survivor.allocatedMillis() - flight.beginMillis();
      int part = (int) Math.max(0, Math.min(PARTS - 1, at * PARTS / span));
      parts.computeIfAbsent(Families.of(survivor.type()), key -> new long[PARTS])[part]++;
    }
    List<Pile> piles = new ArrayList<>();
    parts.forEach(
        (type, counts) -> {
          long sum = Arrays.stream(counts).sum();
          long least = Arrays.stream(counts).min().orElse(0);
          if (sum >= LEAST_SAMPLES && least >= LEAST_PART * sum / PARTS) {
            List<Long> series = Arrays.stream(counts).boxed().toList();
            Pile pile = pile(flight, type, series, own);
            piles.add(
                new Pile(
                    type, pile.place(), pile.script(), pile.line(), pile.heldBy(), series, false));
          }
        });
    piles.sort(
        Comparator.comparing((Pile pile) -> own.test(pile.type()))
            .thenComparing(pile -> pile.counts().stream().mapToLong(Long::longValue).sum())
            .reversed());
    return told(List.copyOf(piles.subList(0, Math.min(MOST_PILES, piles.size()))), 0);
  }
}
