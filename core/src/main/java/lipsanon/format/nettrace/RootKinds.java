package lipsanon.format.nettrace;

import lipsanon.index.RootInfo;

/** Kinds of roots in words. */
final class RootKinds {
  static final String STATIC = RootInfo.STATIC;
  static final String FROZEN = "frozen (a literal or type)";
  static final String LOCAL = "local variable";
  static final String THREAD_STATIC = "thread-local variables";
  static final String HANDLE = "handle";
  static final String PINNED = "pinning handle";
  static final String COUNTED = "counted handle";
  static final String OTHER = "root of another kind";

  private RootKinds() {}
}
