package lipsanon.format.v8;

/**
 * Numbers in the base 64 of source maps: five bits a character, the lowest first, then the sign.
 */
final class Vlq {
  private static final String DIGITS =
      "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/";

  private static final byte[] VALUES = values();
  private static final int GOES_ON = 32;

  private final String text;
  private int at;
  private boolean broken;

  Vlq(String text) {
    this.text = text;
  }

  private static byte[] values() {
    byte[] values = new byte[128];
    java.util.Arrays.fill(values, (byte) -1);
    for (int i = 0; i < DIGITS.length(); i++) {
      values[DIGITS.charAt(i)] = (byte) i;
    }
    return values;
  }

  boolean more() {
    return at < text.length();
  }

  /** Whether something stood here that was no number, or one of more than 32 bits. */
  boolean broken() {
    return broken;
  }

  /** Steps over a character if it is the next one. */
  boolean take(char wanted) {
    boolean is = more() && text.charAt(at) == wanted;
    at += is ? 1 : 0;
    return is;
  }

  /** Whether the segment goes on. */
  boolean within() {
    return more() && text.charAt(at) != ',' && text.charAt(at) != ';';
  }

  int number() {
    long value = 0;
    for (int shift = 0; shift <= 30; shift += 5) {
      char digit = more() ? text.charAt(at) : 0;
      int bits = digit < VALUES.length ? VALUES[digit] : -1;
      if (bits < 0) {
        break;
      }
      at++;
      value |= (long) (bits & GOES_ON - 1) << shift;
      if ((bits & GOES_ON) == 0) {
        long plain = value >> 1;
        return (int) ((value & 1) == 0 ? plain : -plain);
      }
    }
    broken = true;
    return 0;
  }
}
