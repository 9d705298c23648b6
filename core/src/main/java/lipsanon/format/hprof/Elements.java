package lipsanon.format.hprof;

import lipsanon.io.Window;

/** Searches in the elements of an array of objects as they stand in a buffer. */
final class Elements {
  private Elements() {}

  /**
   * The place of an identifier.
   *
   * @param at where the first element begins
   * @param count how many there are
   * @param idSize bytes of an identifier, 4 or 8
   * @return the number of the first element that is it, or -1
   */
  static int find(byte[] bytes, int at, int count, int idSize, long wanted) {
    if (idSize == Long.BYTES) {
      for (int i = 0; i < count; i++) {
        if (Window.longAt(bytes, at + i * Long.BYTES) == wanted) {
          return i;
        }
      }
    } else {
      for (int i = 0; i < count; i++) {
        if (Integer.toUnsignedLong(Window.intAt(bytes, at + i * Integer.BYTES)) == wanted) {
          return i;
        }
      }
    }
    return -1;
  }
}
