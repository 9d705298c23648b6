package lipsanon.change;

import java.io.IOException;
import java.util.List;
import java.util.Locale;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import lipsanon.holder.Holding;
import lipsanon.index.FieldValue;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;

/**
 * Tells whether a holder may be a cache, which fills before it levels off: by its name, by a limit
 * that it keeps beside what it holds, or since it is somebody's own kind of an ordered map.
 */
final class CacheSigns {
  private static final Pattern NAME = Pattern.compile("(?i)(cache|\\blru|lru\\b|memo(?!ry)|pool)");
  private static final Pattern LIMIT =
      Pattern.compile("(?i)^_*(max(?!fill)|limit|bound|capacity|cap$|highwater)");
  private static final int MOST_STEPS = 8;
  private static final int MOST_FIELDS = 40;

  private final Snapshot snapshot;

  CacheSigns(Snapshot snapshot) {
    this.snapshot = snapshot;
  }

  /**
   * Why it may be one, in words; "" if nothing says so.
   *
   * @param confirmed whether it went on in proportion over a long round: then only a limit that is
   *     not reached yet speaks for a cache
   */
  String of(Holding holding, boolean confirmed) throws IOException {
    for (Holding.Place place : confirmed ? List.<Holding.Place>of() : holding.places()) {
      Matcher name = NAME.matcher(ownName(place.text()));
      if (name.find()) {
        return "its name says \"" + name.group().toLowerCase(Locale.ROOT) + "\"";
      }
    }
    for (String inside : confirmed ? List.<String>of() : holding.inside()) {
      Matcher name = NAME.matcher(inside);
      if (name.find()) {
        return "inside it is " + inside;
      }
    }
    int stop = holding.places().isEmpty() ? -1 : holding.places().get(0).node();
    int at = holding.container();
    for (int step = 0; step < MOST_STEPS && at >= 0; step++) {
      String sign = ofObject(at, holding.asked(), confirmed);
      if (!sign.isEmpty()) {
        return sign;
      }
      if (at == stop) {
        break;
      }
      at = snapshot.dominator(at);
    }
    return "";
  }

  /** A variable's own name; a field's and its class's, without the package. */
  private static String ownName(String place) {
    int quote = place.indexOf('`');
    if (quote >= 0) {
      return place.substring(quote, Math.max(quote, place.lastIndexOf('`')));
    }
    String[] parts = place.split("\\.");
    return parts.length < 2 ? place : parts[parts.length - 2] + "." + parts[parts.length - 1];
  }

  private String ofObject(int node, long count, boolean onlyLimits) throws IOException {
    TypeInfo info = snapshot.types().get(snapshot.type(node));
    if (info.array() || info.plain() || snapshot.classNodes().contains(node)) {
      return "";
    }
    boolean runtimes = info.library();
    for (FieldValue field : snapshot.objects().fields(node, MOST_FIELDS)) {
      String name = field.via().name();
      if (name.equals("accessOrder") && !runtimes && !onlyLimits) {
        return info.name() + " is an ordered map of its own kind";
      }
      if (!runtimes && LIMIT.matcher(name).find() && isLimit(field.value(), count)) {
        return "it has a limit, " + name + " = " + field.value();
      }
    }
    return "";
  }

  private static boolean isLimit(String value, long count) {
    try {
      double limit = Double.parseDouble(value);
      // what is as high as the count may be a record of how high it was
      return limit > count && limit < 1e9;
    } catch (NumberFormatException e) {
      return false;
    }
  }
}
