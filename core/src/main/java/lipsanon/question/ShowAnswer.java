package lipsanon.question;

import java.util.List;
import lipsanon.label.ObjectRow;
import lipsanon.label.SnapshotSummary;

/**
 * One object.
 *
 * @param snapshot of which snapshot
 * @param object the object itself
 * @param strength by what it is kept
 * @param depth edges on its nearest path, 0 if it is not retained
 * @param dominator what dominates it immediately, or null
 * @param text the contents of a string, shortened, or null
 * @param length elements of an array, or -1
 * @param origin the stack that allocated it, the innermost function first; empty if not known
 * @param fields its fields, or first elements, with values
 * @param size what a collection says of its size, or -1
 * @param entries first entries of a collection or map
 * @param referencesIn objects that refer to it, the largest first
 * @param referencesInTotal how many there are
 * @param referencesOut what it refers to, the largest first
 * @param referencesOutTotal how many there are
 */
public record ShowAnswer(
    SnapshotSummary snapshot,
    ObjectRow object,
    String strength,
    int depth,
    ObjectRow dominator,
    String text,
    long length,
    List<String> origin,
    List<Value> fields,
    long size,
    List<EntryRow> entries,
    List<ReferenceRow> referencesIn,
    long referencesInTotal,
    List<ReferenceRow> referencesOut,
    long referencesOutTotal) {

  /**
   * A field with its value.
   *
   * @param name as {@code Class.field} or {@code [index]}
   * @param type declared type as far as it is known
   * @param value as text; of a reference the identifier
   * @param target what a reference refers to, in words, or ""
   * @param retainedBytes of what a reference refers to, else 0
   */
  public record Value(String name, String type, String value, String target, long retainedBytes) {}

  /**
   * An entry of a collection or map.
   *
   * @param key in words, null in collections
   * @param value in words
   * @param id identifier of the value, null for null
   */
  public record EntryRow(String key, String value, String id) {}

  /**
   * A reference.
   *
   * @param id of the object at the other end
   * @param type its type
   * @param label what tells it from others
   * @param via where the reference stands
   * @param kind strong, soft, weak or finalizer
   * @param retainedBytes of the object at the other end
   */
  public record ReferenceRow(
      String id, String type, String label, String via, String kind, long retainedBytes) {}
}
