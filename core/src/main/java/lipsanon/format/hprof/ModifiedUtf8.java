package lipsanon.format.hprof;

/**
 * Texts as the VM writes them: "modified UTF-8" of the JVM specification (section 4.4.7), in which
 * a zero takes two bytes and a supplementary character is two surrogates of three bytes each.
 */
final class ModifiedUtf8 {
  private ModifiedUtf8() {}

  /**
   * Decodes; what is no such text becomes U+FFFD.
   *
   * @param cut whether the text goes on behind the bytes: a mark says so
   */
  static String text(byte[] bytes, int length, boolean cut) {
    StringBuilder text = new StringBuilder(length);
    for (int i = 0; i < length; ) {
      int b = bytes[i] & 0xff;
      int c = -1;
      int size = 1;
      if (b < 0x80) {
        c = b;
      } else if (b >> 5 == 0x6 && follows(bytes, i + 1, length)) {
        c = (b & 0x1f) << 6 | bytes[i + 1] & 0x3f;
        size = 2;
      } else if (b >> 4 == 0xe && follows(bytes, i + 1, length) && follows(bytes, i + 2, length)) {
        c = (b & 0xf) << 12 | (bytes[i + 1] & 0x3f) << 6 | bytes[i + 2] & 0x3f;
        size = 3;
      } else if (b >> 3 == 0x1e
          && follows(bytes, i + 1, length)
          && follows(bytes, i + 2, length)
          && follows(bytes, i + 3, length)) {
        // other tools write plain UTF-8
        c =
            (b & 0x7) << 18
                | (bytes[i + 1] & 0x3f) << 12
                | (bytes[i + 2] & 0x3f) << 6
                | bytes[i + 3] & 0x3f;
        size = 4;
      }
      if (c < 0 || c > Character.MAX_CODE_POINT) {
        text.append((char) 0xfffd);
        size = 1;
      } else {
        text.appendCodePoint(c);
      }
      i += size;
    }
    return cut ? text.append((char) 0x2026).toString() : text.toString();
  }

  private static boolean follows(byte[] bytes, int at, int length) {
    return at < length && (bytes[at] & 0xc0) == 0x80;
  }
}
