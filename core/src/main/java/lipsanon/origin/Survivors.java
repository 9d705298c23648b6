package lipsanon.origin;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Predicate;
import lipsanon.index.Recording;
import lipsanon.label.Families;
import lipsanon.live.Flight;

/** Sampled objects that survived, merged by their type and by where they were allocated. */
final class Survivors {
  private static final int MOST_ROWS = 20;
  private static final String STATIC_CLASS = "Class Name: ";
  private static final String THREAD = "Thread Name: ";

  private Survivors() {}

  static List<FlightAnswer.SurvivorRow> rows(List<Flight.Survivor> alive, Predicate<String> own) {
    Map<String, List<Flight.Survivor>> groups = new LinkedHashMap<>();
    for (Flight.Survivor survivor : alive) {
      Recording.Frame place = FlightQuestion.place(survivor.stack(), own);
      String key = Families.of(survivor.type()) + "\n" + (place == null ? "?" : place.text());
      groups.computeIfAbsent(key, k -> new ArrayList<>()).add(survivor);
    }
    List<FlightAnswer.SurvivorRow> rows = new ArrayList<>();
    groups.values().forEach(group -> rows.add(row(group, own)));
    rows.sort(Comparator.comparingLong(FlightAnswer.SurvivorRow::samples).reversed());
    return List.copyOf(rows.subList(0, Math.min(MOST_ROWS, rows.size())));
  }

  private static FlightAnswer.SurvivorRow row(List<Flight.Survivor> group, Predicate<String> own) {
    Flight.Survivor first = group.get(0);
    long youngest = Long.MAX_VALUE;
    long oldest = 0;
    Map<String, Integer> holders = new HashMap<>();
    Map<String, Integer> threads = new HashMap<>();
    List<String> chain = List.of();
    for (Flight.Survivor survivor : group) {
      youngest = Math.min(youngest, survivor.ageMillis());
      oldest = Math.max(oldest, survivor.ageMillis());
      threads.merge(survivor.thread(), 1, Integer::sum);
      if (!survivor.chain().isEmpty()) {
        holders.merge(heldBy(survivor, own), 1, Integer::sum);
        chain = chain.isEmpty() ? chain(survivor) : chain;
      }
    }
    Recording.Frame place = FlightQuestion.place(first.stack(), own);
    return new FlightAnswer.SurvivorRow(
        Families.of(first.type()),
        place == null ? "not known" : place.text(),
        place == null ? "" : place.script(),
        place == null ? 0 : place.line(),
        group.size(),
        youngest,
        oldest,
        most(threads),
        most(holders),
        chain);
  }

  private static String most(Map<String, Integer> counts) {
    return counts.entrySet().stream()
        .max(Map.Entry.comparingByValue())
        .map(Map.Entry::getKey)
        .orElse("");
  }

  /**
   * What holds an object: of the fields of the user's own that lead to a collection or array the
   * one nearest to the root, since there the way divides first. Where there is none, the static
   * field, or the first field of the user's own, or the thread.
   */
  static String heldBy(Flight.Survivor survivor, Predicate<String> own) {
    List<Flight.Link> chain = survivor.chain();
    String anchor = "";
    String first = "";
    String divides = "";
    for (int i = 0; i < chain.size(); i++) {
      Flight.Link link = chain.get(i);
      boolean isClass = link.description().startsWith(STATIC_CLASS);
      boolean mine = own.test(isClass ? className(link) : link.holder());
      if (isClass && !link.field().isEmpty()) {
        anchor = "static " + className(link) + "." + link.field();
      } else if (link.description().startsWith(THREAD)) {
        anchor = "thread \"" + link.description().substring(THREAD.length()) + "\"";
      }
      if (!link.field().isEmpty() && mine) {
        String place = isClass ? anchor : link.holder() + "." + link.field();
        first = first.isEmpty() ? place : first;
        boolean library = i > 0 && !own.test(chain.get(i - 1).holder());
        // a text holds its characters: nothing divides there
        library &= i > 0 && !chain.get(i - 1).holder().equals("java.lang.String");
        divides = library ? place : divides;
      }
    }
    if (!divides.isEmpty()) {
      return divides;
    }
    Flight.Link last = chain.get(chain.size() - 1);
    return !anchor.isEmpty()
        ? anchor
        : !first.isEmpty()
            ? first
            : last.holder() + (last.field().isEmpty() ? "" : "." + last.field());
  }

  private static String className(Flight.Link link) {
    return link.description().substring(STATIC_CLASS.length());
  }

  private static List<String> chain(Flight.Survivor survivor) {
    List<String> steps = new ArrayList<>();
    for (Flight.Link link : survivor.chain()) {
      String holder =
          link.description().startsWith(STATIC_CLASS)
              ? "static " + link.description().substring(STATIC_CLASS.length())
              : link.holder();
      String step = holder + (link.field().isEmpty() ? "[]" : "." + link.field());
      // long lists: the same step again says nothing new
      if (steps.isEmpty() || !steps.get(steps.size() - 1).equals(step)) {
        steps.add(step);
      }
    }
    steps.add("root: " + survivor.root());
    return steps;
  }
}
