package lipsanon.graph;

/** By what an object is kept. */
public enum Strength {
  /** Strong edges alone reach it from the super-root. */
  STRONG,
  /** Strong and soft edges reach it. */
  SOFT,
  /** It is reached from an object that only waits for its finalizer. */
  FINALIZER,
  /** Nothing that the snapshot records keeps it. */
  UNRETAINED
}
