package leakyard.library;

import clojure.java.api.Clojure;
import clojure.lang.IFn;
import leakyard.Program;

/** A program in Clojure: a map in an atom, which a variable of a namespace has. */
public final class Pier implements Program {
  private static final String SOURCE =
      """
      (ns merrow.pier)
      (defrecord Call [number cargo])
      (def calls (atom {}))
      (def latest (atom nil))
      (def counted (atom 0))
      (defn record [n]
        (let [call (->Call n (byte-array 100))]
          (reset! latest call)
          (swap! counted inc)
          (swap! calls assoc n call)))
      (defn release [] (reset! calls {}) (reset! latest nil))
      """;

  private final IFn record;
  private final IFn release;

  /** Ready to act. */
  public Pier() {
    Clojure.var("clojure.core", "load-string").invoke(SOURCE);
    record = Clojure.var("merrow.pier", "record");
    release = Clojure.var("merrow.pier", "release");
  }

  @Override
  public void act(int number) {
    for (int i = 0; i < 20; i++) {
      record.invoke(number * 20L + i);
    }
  }

  @Override
  public void release() {
    release.invoke();
  }
}
