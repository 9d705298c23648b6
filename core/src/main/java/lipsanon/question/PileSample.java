package lipsanon.question;

import java.io.IOException;
import lipsanon.array.IntList;
import lipsanon.index.FieldValue;
import lipsanon.index.Pile;
import lipsanon.index.Snapshot;

/** Some of the objects of a pile, of which the index notes but one. */
final class PileSample {
  private static final int MOST_REFERRING = 8;
  private static final int MOST_FIELDS = 400;
  private static final int MOST = 60;

  private PileSample() {}

  /** The example, and others that stand beside it in the same array or table. */
  static IntList of(Snapshot snapshot, Pile pile) throws IOException {
    IntList some = new IntList();
    some.add(pile.example());
    int above = snapshot.dominator(pile.example());
    IntList referring = snapshot.inbound(pile.example());
    for (int i = 0; i < Math.min(referring.size(), MOST_REFERRING); i++) {
      for (FieldValue field : snapshot.objects().fields(referring.get(i), MOST_FIELDS)) {
        int target = field.target();
        boolean other =
            target >= 0
                && target != pile.example()
                && snapshot.type(target) == pile.type()
                && snapshot.dominator(target) == above;
        if (other && some.size() < MOST) {
          some.add(target);
        }
      }
    }
    return some;
  }
}
