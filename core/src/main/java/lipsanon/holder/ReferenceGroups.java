package lipsanon.holder;

import java.util.IdentityHashMap;
import java.util.Map;
import lipsanon.index.Via;
import lipsanon.label.Families;

/** References as places are told apart by them; readers tell the same fields ever again. */
final class ReferenceGroups {
  static final String ELEMENTS = new Via(Via.Kind.ELEMENT, "", "", -1).group();

  private final Map<Via, String> fields = new IdentityHashMap<>();

  /** The words that a reference has in common with others like it. */
  String of(Via via) {
    if (via.kind() == Via.Kind.ELEMENT && via.name().isEmpty()) {
      return ELEMENTS;
    }
    return via.kind() == Via.Kind.FIELD
        ? fields.computeIfAbsent(via, field -> Families.of(field.group()))
        : Families.of(via.group());
  }
}
