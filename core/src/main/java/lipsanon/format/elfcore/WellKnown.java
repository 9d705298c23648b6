package lipsanon.format.elfcore;

import java.time.Duration;
import java.time.Instant;

/** Structures of the core library that are one value to whoever reads them. */
final class WellKnown {
  static final int NONE = 0;
  private static final int DATE = 1;
  private static final int SPAN = 2;
  private static final int GUID = 3;
  private static final int DECIMAL = 4;

  private static final long TICKS_OF_1970 = 621_355_968_000_000_000L;
  private static final long TICKS_MASK = 0x3fff_ffff_ffff_ffffL;
  private static final long TICKS_A_SECOND = 10_000_000;

  private WellKnown() {}

  /** How a structure is written, or {@link #NONE}. */
  static int text(String type) {
    return switch (type) {
      case "System.DateTime" -> DATE;
      case "System.TimeSpan" -> SPAN;
      case "System.Guid" -> GUID;
      case "System.Decimal" -> DECIMAL;
      default -> NONE;
    };
  }

  /** Bytes of one. */
  static int bytes(int kind) {
    return kind == GUID || kind == DECIMAL ? 16 : kind == NONE ? 0 : 8;
  }

  /** A value in words. */
  static String text(int kind, long first, long second) {
    return switch (kind) {
      case DATE -> instant(first & TICKS_MASK).toString();
      case SPAN ->
          Duration.ofSeconds(
                  Math.floorDiv(first, TICKS_A_SECOND), Math.floorMod(first, TICKS_A_SECOND) * 100)
              .toString();
      case GUID -> guid(first, second);
      default -> decimal(first, second);
    };
  }

  private static Instant instant(long ticks) {
    long since = ticks - TICKS_OF_1970;
    return Instant.ofEpochSecond(
        Math.floorDiv(since, TICKS_A_SECOND), Math.floorMod(since, TICKS_A_SECOND) * 100);
  }

  private static String guid(long first, long second) {
    long last = Long.reverseBytes(second);
    return String.format(
        "%08x-%04x-%04x-%04x-%012x",
        first & 0xffff_ffffL,
        first >>> 32 & 0xffff,
        first >>> 48,
        last >>> 48,
        last & 0xffff_ffff_ffffL);
  }

  /** Flags u4 (scale in bits 16 to 23, sign in bit 31), high u4, low u8. */
  private static String decimal(long first, long second) {
    int flags = (int) first;
    int scale = flags >>> 16 & 0xff;
    java.math.BigInteger whole =
        java.math.BigInteger.valueOf(first >>> 32)
            .shiftLeft(64)
            .add(new java.math.BigInteger(Long.toUnsignedString(second)));
    java.math.BigDecimal value = new java.math.BigDecimal(whole, Math.min(28, scale));
    return (flags < 0 ? value.negate() : value).toPlainString();
  }
}
