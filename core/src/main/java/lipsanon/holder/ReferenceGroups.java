package lipsanon.holder;

import java.util.HashMap;
import java.util.IdentityHashMap;
import java.util.Map;
import lipsanon.index.Via;
import lipsanon.label.Families;

/** References as places are told apart by them; readers tell the same fields ever again. */
final class ReferenceGroups {
  static final String ELEMENTS = new Via(Via.Kind.ELEMENT, "", "", -1).group();

  private static final int MOST_KEPT = 10_000;

  private final Map<Via, String> fields = new IdentityHashMap<>();
  private final Map<String, String> others = new HashMap<>();

  /** The words that a reference has in common with others like it. */
  String of(Via via) {
    if (via.kind() == Via.Kind.ELEMENT && via.name().isEmpty()) {
      return ELEMENTS;
    }
    if (via.kind() == Via.Kind.FIELD) {
      if (fields.size() > MOST_KEPT) {
        // of a reader that tells a field each time anew
        fields.clear();
      }
      return fields.computeIfAbsent(via, field -> Families.of(field.group()));
    }
    String group = via.group();
    return others.size() < MOST_KEPT
        ? others.computeIfAbsent(group, Families::of)
        : Families.of(group);
  }
}
