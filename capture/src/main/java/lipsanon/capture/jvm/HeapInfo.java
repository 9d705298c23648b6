package lipsanon.capture.jvm;

import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** What a VM says of its heap when it is asked for {@code GC.heap_info}: text, by collector. */
final class HeapInfo {
  /** Each generation, or the whole heap of G1: {@code total 89600K, used 13398K}. */
  private static final Pattern GENERATION =
      Pattern.compile("(?m)^\\s*[A-Za-z][^,\\n]*? total [^\\n]*?\\bused ([0-9]+)K");

  private static final Pattern Z = Pattern.compile("(?m)^\\s*ZHeap\\s+used ([0-9]+)([KMG])");
  private static final Pattern SHENANDOAH = Pattern.compile("committed, ([0-9]+)([BKMG]) used");

  private HeapInfo() {}

  /** The bytes in use, garbage included; -1 if the text does not tell. */
  static long usedBytes(String text) {
    Matcher z = Z.matcher(text);
    if (z.find()) {
      return scaled(z);
    }
    Matcher shenandoah = SHENANDOAH.matcher(text);
    if (shenandoah.find()) {
      return scaled(shenandoah);
    }
    long sum = 0;
    boolean any = false;
    Matcher generation = GENERATION.matcher(text);
    while (generation.find()) {
      sum += Long.parseLong(generation.group(1)) << 10;
      any = true;
    }
    return any ? sum : -1;
  }

  private static long scaled(Matcher matcher) {
    long number = Long.parseLong(matcher.group(1));
    return switch (matcher.group(2)) {
      case "K" -> number << 10;
      case "M" -> number << 20;
      case "G" -> number << 30;
      default -> number;
    };
  }
}
