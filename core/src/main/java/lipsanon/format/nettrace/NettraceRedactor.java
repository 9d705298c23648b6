package lipsanon.format.nettrace;

import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.Set;
import lipsanon.io.ByteSource;
import lipsanon.io.Progress;
import lipsanon.redact.PatchedCopy;
import lipsanon.redact.PathMask;
import lipsanon.redact.Pseudonyms;
import lipsanon.redact.TextTraces;

/**
 * Copies a .NET event stream without what it tells beside the heap: it has no contents of objects,
 * but the command line (twice), and the folders that code was loaded from. Events of other
 * providers than the runtime's are emptied.
 */
public final class NettraceRedactor {
  /** The runtime's event of its start, with versions and the command line. */
  private static final int RUNTIME_START = 187;

  /** The pipe's event of the process. */
  private static final int PROCESS = 1;

  private static final Set<String> RUNTIMES =
      Set.of(NettraceFormat.RUNTIME, NettraceFormat.RUNDOWN, NettraceFormat.PIPE, "System.Runtime");

  /** Events that hold addresses and names of types, methods and fields only. */
  private static final Set<Integer> PLAIN =
      Set.of(
          NettraceFormat.GC_START,
          NettraceFormat.GC_END,
          NettraceFormat.HEAP_STATS,
          NettraceFormat.BULK_TYPE,
          NettraceFormat.BULK_ROOT,
          NettraceFormat.BULK_WEAK_ELEMENT,
          NettraceFormat.BULK_NODE,
          NettraceFormat.BULK_EDGE,
          NettraceFormat.GENERATION_RANGE,
          NettraceFormat.BULK_STATIC,
          NettraceFormat.METHOD);

  private NettraceRedactor() {}

  /** Copies. */
  public static void copy(ByteSource source, OutputStream out, Progress progress)
      throws IOException {
    try (PatchedCopy copy = new PatchedCopy(source, out, progress)) {
      NettraceStream stream = new NettraceStream(source);
      stream.read(event -> event(event, copy), Progress.NONE);
      if (stream.broken() != null) {
        throw stream.broken();
      }
      copy.finish();
    }
  }

  private static void event(NettraceStream.Event event, PatchedCopy copy) throws IOException {
    if (event.provider.equals(NettraceFormat.NAMES)) {
      // names of types and fields, as in the other events
      return;
    }
    if (!RUNTIMES.contains(event.provider)) {
      copy.pieces(
          event.payload.position(),
          event.length,
          (bytes, from, to) -> Arrays.fill(bytes, from, to, (byte) 0));
      return;
    }
    boolean process = isProcess(event);
    boolean plain = event.provider.equals(NettraceFormat.PIPE) || PLAIN.contains(event.id);
    if (process || !plain && event.length < 1 << 20) {
      copy.whole(
          event.payload.position(),
          event.length,
          (bytes, from, to) -> texts(bytes, from, to, process));
    }
  }

  private static boolean isProcess(NettraceStream.Event event) {
    return event.is(NettraceFormat.PIPE, PROCESS) || event.id == RUNTIME_START;
  }

  /** Notes the command lines. */
  public static void collect(ByteSource source, TextTraces texts) throws IOException {
    new NettraceStream(source)
        .read(
            event -> {
              if (isProcess(event)) {
                byte[] bytes = event.payload.bytes();
                int at = event.payload.at();
                runs(bytes, at, at + event.length, (from, to) -> texts.add(bytes, from, to));
              }
            },
            Progress.NONE);
  }

  /** The position of the first event that holds one of some texts, or -1. */
  public static long find(ByteSource source, TextTraces texts) throws IOException {
    long[] found = {-1};
    new NettraceStream(source)
        .read(
            event -> {
              int at = event.payload.at();
              boolean looked = found[0] < 0 && isProcess(event);
              if (looked && texts.find(event.payload.bytes(), at, at + event.length) >= 0) {
                found[0] = event.payload.position();
              }
            },
            Progress.NONE);
    return found[0];
  }

  /** Hides texts of two bytes a character: all of them, or folders only. */
  private static void texts(byte[] bytes, int from, int to, boolean all) {
    runs(
        bytes,
        from,
        to,
        (begin, end) -> {
          String text = new String(bytes, begin, end - begin, StandardCharsets.UTF_16LE);
          String other =
              all
                  ? String.valueOf(Pseudonyms.FILLER).repeat(text.length())
                  : PathMask.isPath(text) ? PathMask.of(text) : text;
          byte[] written = other.getBytes(StandardCharsets.UTF_16LE);
          System.arraycopy(written, 0, bytes, begin, Math.min(written.length, end - begin));
        });
  }

  private interface Run {
    void at(int from, int to);
  }

  /** Runs of four and more printable characters. Fields before them may have any length. */
  private static void runs(byte[] bytes, int from, int to, Run run) {
    int at = from;
    while (at + 1 < to) {
      int end = at;
      while (end + 1 < to && bytes[end + 1] == 0 && bytes[end] >= ' ' && bytes[end] < 0x7f) {
        end += 2;
      }
      if (end - at >= 8) {
        run.at(at, end);
        at = end;
      } else {
        at++;
      }
    }
  }
}
