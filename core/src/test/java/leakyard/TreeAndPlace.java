package leakyard;

import java.util.ArrayList;
import java.util.List;

/** A tree whose nodes know each other, entered at its stem and at a place far inside. */
public final class TreeAndPlace implements Program {
  private static final Branch STEM = new Branch(null);
  private static Branch place = STEM;

  static final class Branch {
    final Branch parent;
    final List<Branch> children = new ArrayList<>();
    final long[] leaves = new long[40];

    Branch(Branch parent) {
      this.parent = parent;
    }
  }

  /** Ready to act. */
  public TreeAndPlace() {}

  @Override
  public void act(int number) {
    Program.churn(number);
    Branch branch = new Branch(place);
    place.children.add(branch);
    place = number % 50 == 0 ? branch : place;
  }
}
