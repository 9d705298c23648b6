package lipsanon.format.dotnet;

import lipsanon.index.Via;

/** What a delegate keeps: nobody has named these references, they are how delegates work. */
public final class DelegateParts {
  /** To the array of several handlers. */
  public static final Via HANDLERS = new Via(Via.Kind.PART, "", "list of handlers", -1);

  /** To the object whose method is called. */
  public static final Via TARGET = new Via(Via.Kind.PART, "", "target", -1);

  private DelegateParts() {}
}
