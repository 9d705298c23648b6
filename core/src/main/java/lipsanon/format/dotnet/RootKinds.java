package lipsanon.format.dotnet;

import lipsanon.index.RootInfo;

/** Kinds of roots in words. */
public final class RootKinds {
  public static final String STATIC = RootInfo.STATIC;
  public static final String FROZEN = "frozen (a literal or type)";
  public static final String LOCAL = RootInfo.LOCAL;
  public static final String THREAD_STATIC = RootInfo.THREAD_LOCALS;
  public static final String HANDLE = "handle";
  public static final String PINNED = "pinning handle";
  public static final String COUNTED = "counted handle";
  public static final String TABLE = RootInfo.TABLE;
  public static final String OTHER = "root of another kind";

  /** The type of arrays of anything. */
  public static final String ANYTHING = "System.Object[]";

  private RootKinds() {}

  /**
   * A root as it is told: a program cannot have arrays of references among the objects that are not
   * moved, so such a one is a table of the runtime.
   *
   * @param part of the heap, as by {@link HeapParts}
   */
  public static RootInfo told(RootInfo root, int part, String typeName) {
    boolean handed = root.kind().equals(HANDLE) || root.kind().equals(LOCAL);
    boolean table = handed && part == HeapParts.PINNED && typeName.equals(ANYTHING);
    return table ? new RootInfo(root.node(), TABLE, "", root.thread()) : root;
  }
}
