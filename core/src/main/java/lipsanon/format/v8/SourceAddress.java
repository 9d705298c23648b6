package lipsanon.format.v8;

import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.Iterator;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Addresses of sources, as source maps name them. */
final class SourceAddress {
  private static final Pattern SCHEME = Pattern.compile("[A-Za-z][A-Za-z0-9+.-]+:.*");
  private static final Pattern DRIVE = Pattern.compile("[A-Za-z]:[/\\\\].*");

  /** The way to the packages of a project, or out of it. */
  private static final Pattern UP =
      Pattern.compile("(?<up>(\\.\\./)*)(?<packages>node_modules/)?.*");

  private SourceAddress() {}

  /**
   * The addresses of a map's sources. What lies further out than all packages of the project is no
   * part of it: some packages come with maps of their own, which lead to where they were built.
   *
   * @param base of the map or script
   * @param root what stands before all sources, "" for nothing
   * @param sources as the map has them
   */
  static List<String> all(String base, String root, List<String> sources) {
    int outermost = -1;
    for (String source : sources) {
      Matcher way = UP.matcher(source);
      if (way.matches() && way.group("packages") != null) {
        outermost = Math.max(outermost, way.group("up").length());
      }
    }
    List<String> all = new ArrayList<>(sources.size());
    for (String source : sources) {
      Matcher way = UP.matcher(source);
      boolean outside = way.matches() && outermost >= 0 && way.group("up").length() > outermost;
      String found =
          outside
              ? V8Scripts.OUTSIDE + source.substring(way.group("up").length())
              : of(base, root, source);
      // a source may be none
      all.add(source.isEmpty() ? "" : found);
    }
    return all;
  }

  /**
   * The address of a source.
   *
   * @param base of the map or script
   * @param root what stands before all sources, "" for nothing
   * @param source as the map has it
   */
  static String of(String base, String root, String source) {
    String joined =
        root.isEmpty() || isWhole(source)
            ? source
            : root + (root.endsWith("/") ? "" : "/") + source;
    if (isWhole(joined)) {
      return plain(joined);
    }
    int query = base.indexOf('?');
    String path = query < 0 ? base : base.substring(0, query);
    int slash = Math.max(path.lastIndexOf('/'), path.lastIndexOf('\\'));
    return plain(path.substring(0, slash + 1) + joined);
  }

  private static boolean isWhole(String text) {
    return text.startsWith("/")
        || SCHEME.matcher(text).matches()
        || DRIVE.matcher(text).matches()
        || text.startsWith("\0");
  }

  /** Without {@code .} and {@code ..} on the way. */
  private static String plain(String address) {
    int host = address.indexOf("://");
    int begin = host < 0 ? 0 : address.indexOf('/', host + 3);
    if (begin < 0 || !address.contains("./")) {
      return address;
    }
    Deque<String> parts = new ArrayDeque<>();
    boolean rooted = address.startsWith("/", begin);
    for (String part : address.substring(begin).split("/")) {
      if (part.equals("..") && !parts.isEmpty() && !parts.peekLast().equals("..")) {
        parts.removeLast();
      } else if (part.equals("..") && !rooted) {
        parts.addLast(part);
      } else if (!part.isEmpty() && !part.equals(".") && !part.equals("..")) {
        parts.addLast(part);
      }
    }
    StringBuilder text = new StringBuilder(address.substring(0, begin));
    for (Iterator<String> i = parts.iterator(); i.hasNext(); ) {
      text.append(rooted || text.length() > begin ? "/" : "").append(i.next());
    }
    return text.toString();
  }
}
