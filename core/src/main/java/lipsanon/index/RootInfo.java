package lipsanon.index;

import java.util.Locale;

/**
 * A root.
 *
 * @param node the object
 * @param kind in words: {@code thread}, {@code local variable}, {@code JNI global}, ...
 * @param detail what else is known (the method of a local variable), or ""
 * @param thread for a local variable whose thread is known: the thread's node, from which the edge
 *     runs; else -1
 */
public record RootInfo(int node, String kind, String detail, int thread) {
  /** The kind of variables that last as long as the program, where they are roots themselves. */
  public static final String STATIC = "static variable";

  /** The kind of variables of methods that run. */
  public static final String LOCAL = "local variable";

  /** The kind of variables that each thread has for itself. */
  public static final String THREAD_STATIC = "thread static variable";

  /** What the runtime has for each thread, where it does not tell whose variables these are. */
  public static final String THREAD_LOCALS = "thread-local variables";

  /**
   * The kind of words on a thread's stack that look like references: they keep what they point to,
   * but may be left over, or no references at all.
   */
  public static final String PERHAPS = "stack, perhaps";

  /** The kind of running threads, where the runtime's snapshots tell them. */
  public static final String THREAD = "thread";

  /**
   * The kind of a runtime's own table, where it keeps the values of variables that it does not name
   * and the texts that it holds once.
   */
  public static final String TABLE = "static variables and interned texts";

  /** The kind of what native code of the JVM has in hand. */
  public static final String JNI_LOCAL = "JNI local";

  /** The kind of what native code of V8 has in hand. */
  private static final String HANDLE_SCOPE = "Handle scope";

  /** Somebody waits for the object, or has locked it: JDK 8 tells of each that is waited for. */
  public static final String MONITOR = "monitor in use";

  /** The kind of objects that nothing keeps but their finalizers, which have not run yet. */
  public static final String WAITING = "waits for its finalizer";

  /** Whether it is a variable that somebody has named. */
  public boolean named() {
    return (kind.equals(STATIC) || kind.equals(THREAD_STATIC)) && !detail.isEmpty();
  }

  /**
   * Whether it is of a kind that is given out one by one and lasts until it is given back: a
   * handle, or a reference of native code.
   */
  public boolean givenOut() {
    String lower = kind.toLowerCase(Locale.ROOT);
    return thread < 0 && (lower.contains("handle") || lower.equals("jni global"));
  }

  /**
   * Whether it is what native code has in hand for a moment, or a thread waits for: what else
   * refers to the object says more of what keeps it.
   */
  public boolean passing() {
    return kind.equals(HANDLE_SCOPE) || kind.equals(JNI_LOCAL) || kind.equals(MONITOR);
  }

  /** Whether it is a variable of a method that a thread runs, where the thread is not known. */
  public boolean onStack() {
    return thread < 0 && kind.equals(LOCAL);
  }

  /** Whether it may be no root at all: any other one says more. */
  public boolean perhaps() {
    return kind.equals(PERHAPS);
  }
}
