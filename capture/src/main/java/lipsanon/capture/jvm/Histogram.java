package lipsanon.capture.jvm;

import java.util.ArrayList;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import lipsanon.capture.CaptureException;
import lipsanon.capture.TypeCounts;
import lipsanon.capture.TypeCounts.TypeCount;

/** Reads the class histogram that a VM gives as text; names become those of heap dumps. */
final class Histogram {
  /** {@code 12: 340 8160 [Lportmerrow.Berth; (office@1)}: number, objects, bytes, class. */
  private static final Pattern ROW = Pattern.compile("^\\s*\\d+:\\s+(\\d+)\\s+(\\d+)\\s+(\\S+).*");

  private static final Pattern TOTAL = Pattern.compile("^Total\\s+(\\d+)\\s+(\\d+)\\s*");

  private Histogram() {}

  /**
   * Parses an answer.
   *
   * @throws CaptureException if its last line, with the totals, is missing
   */
  static TypeCounts parse(String text, long atMillis, long costMillis, boolean live)
      throws CaptureException {
    List<TypeCount> types = new ArrayList<>();
    for (String line : (Iterable<String>) text.lines()::iterator) {
      Matcher row = ROW.matcher(line);
      if (row.matches()) {
        types.add(
            new TypeCount(typeName(row.group(3)), number(row.group(1)), number(row.group(2))));
        continue;
      }
      Matcher total = TOTAL.matcher(line);
      if (total.matches()) {
        long bytes = number(total.group(2));
        return new TypeCounts(
            atMillis, costMillis, live, List.copyOf(types), number(total.group(1)), bytes);
      }
    }
    throw new CaptureException("the VM's count of types was cut off");
  }

  private static long number(String digits) {
    return digits.length() > 18 ? Long.MAX_VALUE : Long.parseLong(digits);
  }

  /** The name as heap dumps have it, arrays as in source code. */
  static String typeName(String raw) {
    int dimensions = 0;
    while (dimensions < raw.length() && raw.charAt(dimensions) == '[') {
      dimensions++;
    }
    String element = raw.substring(dimensions);
    if (dimensions > 0) {
      element =
          switch (element) {
            case "B" -> "byte";
            case "C" -> "char";
            case "D" -> "double";
            case "F" -> "float";
            case "I" -> "int";
            case "J" -> "long";
            case "S" -> "short";
            case "Z" -> "boolean";
            default ->
                element.startsWith("L") && element.endsWith(";")
                    ? element.substring(1, element.length() - 1)
                    : element;
          };
    }
    // hidden classes: the part after the slash is an address
    return element.replace("/0x", "+0x") + "[]".repeat(dimensions);
  }
}
