package lipsanon.label;

import java.io.IOException;
import java.util.List;
import java.util.Locale;
import lipsanon.index.RootInfo;
import lipsanon.index.Snapshot;
import lipsanon.index.Via;

/** Says objects, roots and references in words. */
public final class Labels {
  /** Characters of a text at most. */
  static final int TEXT = 60;

  private Labels() {}

  /** A text, a thread's name, a class: what tells this object from others of its type; or "". */
  public static String of(Snapshot snapshot, int node) throws IOException {
    String label = snapshot.objects().label(node, TEXT);
    if (!Promises.concerns(snapshot.types().get(snapshot.type(node)), label)) {
      return label;
    }
    String waiting = Promises.waiting(snapshot, node);
    return waiting.isEmpty() ? label : waiting;
  }

  /** How the super-root holds an object, in words; "" if it is no root. */
  public static String rootText(Snapshot snapshot, int node) {
    List<RootInfo> roots = snapshot.rootsOf(node);
    for (RootInfo root : roots) {
      if (root.thread() < 0) {
        return root.detail().isEmpty()
            ? root.kind()
            : root.kind() + (root.named() ? " " : " in ") + root.detail();
      }
    }
    return "";
  }

  /** A size in a sentence: 1 kB is 1,000 bytes. */
  public static String bytes(long value) {
    String[] units = {"B", "kB", "MB", "GB", "TB"};
    double scaled = value;
    int unit = 0;
    while (scaled >= 999.5 && unit < units.length - 1) {
      scaled /= 1000;
      unit++;
    }
    return String.format(Locale.ROOT, unit == 0 ? "%.0f %s" : "%.1f %s", scaled, units[unit]);
  }

  /** A reference in words: {@code static Class.field}, {@code Class.field}, {@code [3]}. */
  public static String via(Via via) {
    return via == null ? "" : via.text();
  }
}
