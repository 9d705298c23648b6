package lipsanon.index;

/**
 * A reference out of an object.
 *
 * @param target the node referred to
 * @param kind whether it keeps the target
 * @param via where in the object it stands
 */
public record Reference(int target, Kind kind, Via via) {
  /** Kinds of references. */
  public enum Kind {
    /** Keeps its target. */
    STRONG,
    /** Keeps its target while memory suffices. */
    SOFT,
    /** Does not keep its target. */
    WEAK,
    /** Of the runtime's finalizer machinery. */
    FINALIZER
  }
}
