package lipsanon.scripts;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;

/**
 * What a function or block of a script declares, or the script itself outside of all functions.
 *
 * @param line where the function's parameters begin, else where the block does; from 0
 * @param column likewise
 * @param endLine where its closing brace stands, or what follows an arrow function without one
 * @param endColumn likewise
 * @param names by name: line and column, both from 0; and 1 if it is a class, else 0
 */
public record InnerScope(
    int line, int column, int endLine, int endColumn, Map<String, int[]> names) {
  /** What is put before the name of a class in {@link #told}. */
  public static final String CLASS = "class ";

  /**
   * All of it as snapshots have it, numbers and texts: the four bounds, then of each variable its
   * name, line and column.
   */
  public List<Object> told() {
    List<Object> told = new ArrayList<>(List.of(line, column, endLine, endColumn));
    names.forEach(
        (name, place) -> {
          told.add(place[2] == 1 ? CLASS + name : name);
          told.add(place[0]);
          told.add(place[1]);
        });
    return told;
  }
}
