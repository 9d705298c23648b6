package lipsanon.format.v8;

import java.util.regex.Pattern;
import lipsanon.redact.PathMask;

/** What of a name may be handed over: folders, attributes of elements and data in it may not. */
final class V8Names {
  private static final Pattern PATH = Pattern.compile("(/|[a-z][a-z+.-]*://|[A-Za-z]:[/\\\\]).*");
  private static final Pattern QUOTED = Pattern.compile("\"[^\"]*\"");
  private static final String SEPARATOR = " / ";

  private V8Names() {}

  static String masked(String name) {
    int at = name.lastIndexOf(SEPARATOR);
    String head = at < 0 ? "" : name.substring(0, at + SEPARATOR.length());
    String tail = name.substring(head.length());
    if (tail.startsWith("data:")) {
      return head + tail.replaceAll("(?<=.{5}).", "*");
    }
    if (PATH.matcher(tail).matches()) {
      return head + PathMask.of(tail);
    }
    if (name.startsWith("<") && name.indexOf('"') > 0) {
      return QUOTED
          .matcher(name)
          .replaceAll(found -> '"' + "*".repeat(found.group().length() - 2) + '"');
    }
    return name;
  }
}
