package lipsanon.capture.jvm;

import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * What a VM says of its heap when it is asked for {@code GC.heap_info}: text, by collector.
 *
 * @param usedBytes in use, garbage included; -1 if the text does not tell
 * @param committedBytes what the heap has from the operating system, or -1
 * @param maxBytes the most that it may grow to, or -1
 */
record HeapInfo(long usedBytes, long committedBytes, long maxBytes) {
  /** Each generation, or the whole heap of G1: {@code total 89600K, used 13398K}. */
  private static final Pattern GENERATION =
      Pattern.compile(
          "(?m)^\\s*[A-Za-z][^,\\n]*? total (?:reserved ([0-9]+)K, committed )?([0-9]+)K"
              + "[^\\n]*?\\bused ([0-9]+)K");

  private static final Pattern Z =
      Pattern.compile(
          "(?m)^\\s*ZHeap\\s+used ([0-9]+)([KMG])"
              + "(?:, capacity ([0-9]+)([KMG]), max capacity ([0-9]+)([KMG]))?");
  private static final Pattern SHENANDOAH =
      Pattern.compile("([0-9]+)([BKMG]) committed, ([0-9]+)([BKMG]) used");

  /** Reads the text. */
  static HeapInfo of(String text) {
    Matcher z = Z.matcher(text);
    if (z.find()) {
      return new HeapInfo(scaled(z, 1), scaled(z, 3), scaled(z, 5));
    }
    Matcher shenandoah = SHENANDOAH.matcher(text);
    if (shenandoah.find()) {
      return new HeapInfo(scaled(shenandoah, 3), scaled(shenandoah, 1), -1);
    }
    long used = 0;
    long committed = 0;
    long max = -1;
    boolean any = false;
    Matcher generation = GENERATION.matcher(text);
    while (generation.find()) {
      used += Long.parseLong(generation.group(3)) << 10;
      committed += Long.parseLong(generation.group(2)) << 10;
      if (generation.group(1) != null) {
        max = Long.parseLong(generation.group(1)) << 10;
      }
      any = true;
    }
    return any ? new HeapInfo(used, committed, max) : new HeapInfo(-1, -1, -1);
  }

  private static long scaled(Matcher matcher, int group) {
    if (matcher.group(group) == null) {
      return -1;
    }
    long number = Long.parseLong(matcher.group(group));
    return switch (matcher.group(group + 1)) {
      case "K" -> number << 10;
      case "M" -> number << 20;
      case "G" -> number << 30;
      default -> number;
    };
  }
}
