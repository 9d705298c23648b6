package lipsanon.format.dotnet;

import lipsanon.index.RootInfo;

/** Kinds of roots in words. */
public final class RootKinds {
  public static final String STATIC = RootInfo.STATIC;
  public static final String FROZEN = "frozen (a literal or type)";
  public static final String LOCAL = "local variable";
  public static final String THREAD_STATIC = "thread-local variables";
  public static final String HANDLE = "handle";
  public static final String PINNED = "pinning handle";
  public static final String COUNTED = "counted handle";
  public static final String OTHER = "root of another kind";

  private RootKinds() {}
}
