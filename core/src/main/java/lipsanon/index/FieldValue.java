package lipsanon.index;

/**
 * A field or element of an object with its value.
 *
 * @param via where it stands
 * @param type the declared type as far as it is known: a primitive's keyword, or {@code reference}
 * @param value a primitive as text; for a reference its identifier, {@code null}, or what the
 *     snapshot does not hold
 * @param target the node referred to, or -1
 */
public record FieldValue(Via via, String type, String value, int target) {}
