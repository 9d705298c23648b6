package lipsanon.format.hprof;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;

/**
 * Where the VM puts the fields of an instance, as far as it matters for the size: superclass first;
 * primitives from large to small, then references; each into the smallest gap that it fits, gaps of
 * superclasses included, else at the end. So the HotSpot VM since JDK 15 (its field layout
 * builder).
 */
final class FieldLayout {
  private final List<int[]> gaps = new ArrayList<>();
  private int end;

  private FieldLayout(int end) {
    this.end = end;
  }

  /** An object without fields. */
  static FieldLayout header(int headerBytes) {
    return new FieldLayout(headerBytes);
  }

  /** The same, to be gone on with for a subclass. */
  FieldLayout copy() {
    FieldLayout copy = new FieldLayout(end);
    gaps.forEach(gap -> copy.gaps.add(gap.clone()));
    return copy;
  }

  /** What is up to {@code bytes} is taken, by fields that the dump does not show. */
  static FieldLayout filled(int bytes) {
    return new FieldLayout(bytes);
  }

  /** The same with fields that the VM adds and the dump does not show. */
  FieldLayout withHiddenLongs(int longs, int referenceBytes) {
    FieldLayout copy = copy();
    ClassInfo.Field[] hidden = new ClassInfo.Field[longs];
    Arrays.fill(hidden, new ClassInfo.Field("", HprofFormat.LONG));
    copy.add(hidden, referenceBytes);
    return copy;
  }

  void add(ClassInfo.Field[] fields, int referenceBytes) {
    for (int size = 8; size >= 1; size /= 2) {
      for (ClassInfo.Field field : fields) {
        if (field.type() != HprofFormat.OBJECT && HprofFormat.bytes(field.type(), 8) == size) {
          place(size);
        }
      }
    }
    for (ClassInfo.Field field : fields) {
      if (field.type() == HprofFormat.OBJECT) {
        place(referenceBytes);
      }
    }
  }

  private void place(int size) {
    int best = -1;
    for (int i = gaps.size() - 1; i >= 0; i--) {
      int[] gap = gaps.get(i);
      if (up(gap[0], size) + size <= gap[1]
          && (best < 0 || gap[1] - gap[0] < gaps.get(best)[1] - gaps.get(best)[0])) {
        best = i;
      }
    }
    if (best < 0) {
      int at = up(end, size);
      if (at > end) {
        gaps.add(new int[] {end, at});
      }
      end = at + size;
      return;
    }
    int[] gap = gaps.remove(best);
    int at = up(gap[0], size);
    if (at > gap[0]) {
      gaps.add(new int[] {gap[0], at});
    }
    if (at + size < gap[1]) {
      gaps.add(new int[] {at + size, gap[1]});
    }
  }

  /** Bytes of an instance. */
  int size(int alignment) {
    return up(end, alignment);
  }

  static int up(int value, int alignment) {
    return (value + alignment - 1) / alignment * alignment;
  }
}
