package lipsanon.holder;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.BiConsumer;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Types that a program makes while it runs, one for each script, rule or expression, differ in
 * numbers only: several of them are one sort of thing.
 */
final class MadeTypes {
  private static final Pattern NUMBER = Pattern.compile("[0-9]+");

  private MadeTypes() {}

  /**
   * Joins what is known of types that differ in numbers only, under what their names begin with.
   *
   * @param types by name
   * @param join adds what is known of one type to another
   */
  static <B> Map<String, B> joined(Map<String, B> types, BiConsumer<B, B> join) {
    Map<String, List<String>> alike = new LinkedHashMap<>();
    for (String name : types.keySet()) {
      alike.computeIfAbsent(NUMBER.matcher(name).replaceAll("0"), k -> new ArrayList<>()).add(name);
    }
    if (alike.size() == types.size()) {
      return types;
    }
    Map<String, B> joined = new LinkedHashMap<>();
    for (List<String> names : alike.values()) {
      B first = types.get(names.get(0));
      names.subList(1, names.size()).forEach(name -> join.accept(first, types.get(name)));
      joined.put(names.size() == 1 ? names.get(0) : beginning(names), first);
    }
    return joined;
  }

  /** What stands before the first number in which names differ. */
  private static String beginning(List<String> names) {
    String first = names.get(0);
    Matcher number = NUMBER.matcher(first);
    while (number.find()) {
      String before = first.substring(0, number.start());
      String upTo = first.substring(0, number.end());
      if (!names.stream().allMatch(name -> begins(name, upTo))) {
        return before + "…";
      }
    }
    return first;
  }

  /** Whether a name begins with another up to the end of a number. */
  private static boolean begins(String name, String upTo) {
    int end = upTo.length();
    return name.startsWith(upTo) && (name.length() == end || !Character.isDigit(name.charAt(end)));
  }
}
