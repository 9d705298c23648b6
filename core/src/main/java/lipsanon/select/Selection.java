package lipsanon.select;

import java.util.List;

/**
 * Which objects are meant: the tree of a selection. {@link SelectionParser} makes it of a text,
 * {@link Selector} finds the objects.
 */
public sealed interface Selection {
  /** How figures and texts are compared. */
  enum Comparison {
    EQUAL("="),
    UNEQUAL("!="),
    LESS("<"),
    AT_MOST("<="),
    MORE(">"),
    AT_LEAST(">="),
    /** A pattern with {@code *} and {@code ?}; without these a part. */
    LIKE("~");

    final String sign;

    Comparison(String sign) {
      this.sign = sign;
    }
  }

  /** Figures that every object has. */
  enum Figure {
    /** Bytes of the object itself. */
    SHALLOW,
    /** Bytes that it retains. */
    RETAINED,
    /** References on the shortest path from a root. */
    DEPTH,
    /** Elements of an array. */
    LENGTH
  }

  /** All objects. */
  record All() implements Selection {}

  /**
   * Objects of a type.
   *
   * @param name a type's name, a part of it, a pattern, or a name as answers print it
   * @param at where it stands in the text
   */
  record OfType(String name, int at) implements Selection {}

  /** Objects of a type and of all its subtypes. */
  record OfKind(String name, int at) implements Selection {}

  /** Objects of the user's own types. */
  record Own() implements Selection {}

  /** Objects whose type is loaded by such a loader. */
  record LoadedBy(String loader, int at) implements Selection {}

  /** Objects of a strength, in words. */
  record OfStrength(String strength) implements Selection {}

  /** Roots; of a kind where that is not "". */
  record Rooted(String kind, int at) implements Selection {}

  /** Objects with such a figure. */
  record Measured(Figure figure, Comparison comparison, long value) implements Selection {}

  /** Strings with such a text; by their length where {@code length} is not negative. */
  record WithText(Comparison comparison, String text, long length) implements Selection {}

  /**
   * Objects from which fields lead to such a value.
   *
   * @param path names of fields, each in the object that the one before refers to
   */
  record WithField(List<String> path, Comparison comparison, String value, int at)
      implements Selection {}

  /** Objects that have one of others above them in the tree of keepers. */
  record KeptBy(Selection keepers) implements Selection {}

  /** Objects that are freed if all of others go, these left out. */
  record FreedWith(Selection others) implements Selection {}

  /** Objects that refer to others, through a field where that is not "". */
  record RefersTo(Selection targets, String field) implements Selection {}

  /** Objects that others refer to, through a field where that is not "". */
  record ReferredToBy(Selection sources, String field) implements Selection {}

  /** Objects that an earlier snapshot of the same run does not have. */
  record NewSince(String file, int at) implements Selection {}

  /** Objects allocated by a function, where that was recorded. */
  record AllocatedIn(String function, int at) implements Selection {}

  /** Objects allocated in a window of a recording, in milliseconds since it began. */
  record AllocatedDuring(long fromMillis, long toMillis, int at) implements Selection {}

  /** One object. */
  record Single(String id, int at) implements Selection {}

  /** A selection that was given a name. */
  record Named(String name, int at) implements Selection {}

  /** What all parts select. */
  record And(List<Selection> parts) implements Selection {}

  /** What any part selects. */
  record Or(List<Selection> parts) implements Selection {}

  /** All that the other does not select. */
  record Not(Selection other) implements Selection {}
}
