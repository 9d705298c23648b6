package leakyard.library;

import com.google.common.collect.ArrayListMultimap;
import com.google.common.collect.ListMultimap;
import leakyard.Program;

/** A multimap that keeps every value of a few keys. */
public final class Manifests implements Program {
  /** Ready to act. */
  public Manifests() {}

  private static final Desk DESK = new Desk();

  static final class Desk {
    private final ListMultimap<String, Manifest> byQuay = ArrayListMultimap.create();
  }

  record Manifest(int number, int[] weights) {}

  @Override
  public void act(int number) {
    DESK.byQuay.put("quay " + number % 3, new Manifest(number, new int[120]));
    DESK.byQuay.put("quay " + number % 3, new Manifest(-number, new int[120]));
  }

  @Override
  public void release() {
    DESK.byQuay.clear();
  }
}
