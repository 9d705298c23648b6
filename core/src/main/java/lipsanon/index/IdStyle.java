package lipsanon.index;

import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** How the identifiers of a runtime's objects are written. */
public enum IdStyle {
  /** Addresses, ascending with the object numbers: {@code 0x} and hexadecimal digits. */
  ADDRESS,
  /** Serial numbers below 2^32 in any order: {@code @} and decimal digits. */
  SERIAL;

  private static final Pattern FORM = Pattern.compile("0[xX]([0-9a-fA-F]{1,16})|@([0-9]{1,10})");

  /** As users read and type it. */
  public String text(long id) {
    return this == ADDRESS ? "0x" + Long.toHexString(id) : "@" + id;
  }

  /** Whether a text is meant as an identifier of either style. */
  public static boolean matches(String text) {
    return FORM.matcher(text).matches();
  }

  /**
   * The identifier that a text stands for.
   *
   * @return -1 if the text is none of this style; every other value may be an address
   */
  public long parse(String text) {
    Matcher matcher = FORM.matcher(text);
    if (!matcher.matches()) {
      return -1;
    }
    String digits = matcher.group(this == ADDRESS ? 1 : 2);
    return digits == null ? -1 : Long.parseUnsignedLong(digits, this == ADDRESS ? 16 : 10);
  }
}
