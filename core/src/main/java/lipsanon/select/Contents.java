package lipsanon.select;

import java.io.IOException;
import java.util.BitSet;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import lipsanon.index.FieldValue;
import lipsanon.index.Snapshot;
import lipsanon.index.Via;
import lipsanon.label.Wildcard;
import lipsanon.select.Selection.Comparison;

/** Selects by what stands in objects: texts, fields along a path, lengths of arrays. */
final class Contents {
  /** Longer texts are compared by their beginnings. */
  private static final int LONGEST_TEXT = 1 << 16;

  private static final int MOST_FIELDS = 1 << 12;

  private final Snapshot snapshot;

  /** By type with declared fields: whether it has the field that is asked for first. */
  private final Map<Integer, Boolean> declares = new HashMap<>();

  private final Map<Integer, Boolean> stringTypes = new HashMap<>();

  private final Selector.Stop stop;

  Contents(Snapshot snapshot, Selector.Stop stop) {
    this.snapshot = snapshot;
    this.stop = stop;
  }

  BitSet find(Selection selection, BitSet within) throws IOException, SelectionException {
    if (selection instanceof Selection.WithText text) {
      return texts(text, within);
    } else if (selection instanceof Selection.WithField field) {
      return fields(field, within);
    }
    Selection.Measured measured = (Selection.Measured) selection;
    BitSet found = new BitSet();
    for (int n = within.nextSetBit(0); n >= 0 && !stop.now(); n = within.nextSetBit(n + 1)) {
      if (snapshot.types().get(snapshot.type(n)).array()) {
        long length = snapshot.objects().length(n);
        if (length >= 0
            && compares(Long.compare(length, measured.value()), measured.comparison())) {
          found.set(n);
        }
      }
    }
    return found;
  }

  private static boolean compares(int order, Comparison comparison) {
    return switch (comparison) {
      case EQUAL -> order == 0;
      case UNEQUAL -> order != 0;
      case LESS -> order < 0;
      case AT_MOST -> order <= 0;
      case MORE -> order > 0;
      case AT_LEAST -> order >= 0;
      case LIKE -> false;
    };
  }

  private BitSet texts(Selection.WithText wanted, BitSet within) throws IOException {
    Wildcard pattern = wanted.comparison() == Comparison.LIKE ? Wildcard.of(wanted.text()) : null;
    BitSet found = new BitSet();
    for (int n = within.nextSetBit(0); n >= 0 && !stop.now(); n = within.nextSetBit(n + 1)) {
      if (!isString(n)) {
        continue;
      }
      String text = snapshot.objects().contents().text(n, LONGEST_TEXT);
      if (text == null) {
        continue;
      }
      boolean fits =
          wanted.length() >= 0
              ? compares(Long.compare(text.length(), wanted.length()), wanted.comparison())
              : pattern != null
                  ? pattern.fits(text)
                  : compares(text.compareTo(wanted.text()), wanted.comparison());
      if (fits) {
        found.set(n);
      }
    }
    return found;
  }

  /** Types of strings hold nothing else, so that one of them tells for all. */
  private boolean isString(int node) throws IOException {
    int type = snapshot.type(node);
    Boolean known = stringTypes.get(type);
    if (known == null) {
      known = snapshot.objects().isString(node);
      stringTypes.put(type, known);
    }
    return known;
  }

  private BitSet fields(Selection.WithField wanted, BitSet within)
      throws IOException, SelectionException {
    Wildcard pattern = wanted.comparison() == Comparison.LIKE ? Wildcard.of(wanted.value()) : null;
    BitSet found = new BitSet();
    String first = wanted.path().get(0);
    boolean[] seen = new boolean[wanted.path().size()];
    Set<String> others = new TreeSet<>();
    for (int n = within.nextSetBit(0); n >= 0 && !stop.now(); n = within.nextSetBit(n + 1)) {
      if (declares.getOrDefault(snapshot.type(n), true)) {
        if (fits(n, wanted, pattern, first, seen, others)) {
          found.set(n);
        }
      }
    }
    for (int i = 0; i < seen.length && !stop.now() && !within.isEmpty(); i++) {
      if (!seen[i] && (i == 0 || seen[i - 1])) {
        List<String> near = Near.of(wanted.path().get(i), others);
        if (i == 0 || !near.isEmpty()) {
          throw SelectionException.missing(
              "no object that is asked has a field "
                  + wanted.path().get(i)
                  + (near.isEmpty() ? "" : "; near: " + String.join(", ", near)),
              wanted.at());
        }
      }
    }
    return found;
  }

  private boolean fits(
      int node,
      Selection.WithField wanted,
      Wildcard pattern,
      String first,
      boolean[] seen,
      Set<String> others)
      throws IOException {
    int at = node;
    List<String> path = wanted.path();
    for (int i = 0; i < path.size(); i++) {
      FieldValue field = null;
      List<FieldValue> fields = snapshot.objects().contents().fields(at, MOST_FIELDS);
      for (FieldValue candidate : fields) {
        if (candidate.via().name().equals(path.get(i))) {
          field = candidate;
          break;
        }
      }
      if (field == null) {
        note(at, i == 0 ? first : null, fields, others);
        return false;
      }
      seen[i] = true;
      if (i == path.size() - 1) {
        return value(field, wanted, pattern);
      }
      if (field.target() < 0) {
        return false;
      }
      at = field.target();
    }
    return false;
  }

  /** Remembers that a type has no such field, and which it has. */
  private void note(int node, String first, List<FieldValue> fields, Set<String> others) {
    boolean declared = true;
    for (FieldValue field : fields) {
      declared &= field.via().kind() == Via.Kind.FIELD || field.via().kind() == Via.Kind.ELEMENT;
      if (others.size() < 20_000 && !field.via().name().isEmpty()) {
        others.add(field.via().name());
      }
    }
    if (declared && first != null && !fields.isEmpty()) {
      declares.put(snapshot.type(node), false);
    }
  }

  private boolean value(FieldValue field, Selection.WithField wanted, Wildcard pattern)
      throws IOException {
    String value = field.value();
    if (field.target() >= 0) {
      String text =
          isText(field.target())
              ? snapshot.objects().contents().text(field.target(), LONGEST_TEXT)
              : null;
      value = text != null ? text : snapshot.id(field.target());
    }
    if (pattern != null) {
      return pattern.fits(value);
    }
    Double a = number(value);
    Double b = number(wanted.value());
    int order = a != null && b != null ? a.compareTo(b) : value.compareTo(wanted.value());
    return compares(order, wanted.comparison());
  }

  /** Strings, and what has a natural text besides (boxed numbers). */
  private boolean isText(int node) throws IOException {
    return snapshot.objects().contents().text(node, 1) != null;
  }

  private static Double number(String text) {
    try {
      return text.isEmpty() ? null : Double.valueOf(text);
    } catch (NumberFormatException e) {
      return null;
    }
  }
}
