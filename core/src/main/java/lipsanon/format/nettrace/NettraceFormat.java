package lipsanon.format.nettrace;

import java.nio.charset.StandardCharsets;

/**
 * The event stream of a .NET runtime, version 4. All numbers are little-endian; z16 is UTF-16 text
 * that a zero ends.
 *
 * <pre>
 * File   --> "Nettrace", 20 i4, "!FastSerialization.1", Object*, 1 u1
 * Object --> 5 u1, 5 u1, 1 u1, version i4, minReader i4, nameLength i4, name, 6 u1, Body, 6 u1
 * Body of "Trace" --> 8 × u2 (year, month, day of week, day, hour, minute, second, millisecond),
 *                     startTicks i8, ticksPerSecond i8, pointerSize i4, pid i4, cpus i4, interval i4
 * Body of others  --> size i4, zeros up to a multiple of 4 in the file, size bytes
 * "MetadataBlock", "EventBlock" --> headerSize u2, flags u2 (1: compressed), ..., Event*
 * "SPBlock"       --> time i8, n i4, n × (thread i8, sequence i4)
 * "StackBlock"    --> firstId i4, count i4, count × (bytes i4, addresses)
 * Event (compressed) --> f u1, [f&1: metadata v], [f&2: sequence v, thread v, processor v],
 *        [f&4: thread v], [f&8: stack v], time v, [f&16: 16 bytes], [f&32: 16 bytes],
 *        [f&128: length v], payload                                  (v: 7 bits a byte, low first)
 * Metadata --> id i4, provider z16, event i4, name z16, keywords i8, version i4, level i4, ...
 * </pre>
 *
 * What an event leaves out is as in the one before it in the block. The payloads of the heap's
 * events stand at {@link HeapEvents}.
 */
final class NettraceFormat {
  static final String MAGIC = "Nettrace";
  static final String SERIALIZATION = "!FastSerialization.1";
  static final int BEGIN_OBJECT = 5;
  static final int END_OBJECT = 6;
  static final int NULL_REFERENCE = 1;
  static final int TRACE_BYTES = 48;
  static final String RUNTIME = "Microsoft-Windows-DotNETRuntime";
  static final String RUNDOWN = "Microsoft-Windows-DotNETRuntimeRundown";
  static final String PIPE = "Microsoft-DotNETCore-EventPipe";

  /** Events of this program's own, which `capture` adds: see {@link NameEvents}. */
  static final String NAMES = "Lipsanon-Names";

  static final int GC_START = 1;
  static final int GC_END = 2;
  static final int HEAP_STATS = 4;
  static final int BULK_TYPE = 15;
  static final int BULK_ROOT = 16;
  static final int BULK_WEAK_ELEMENT = 17;
  static final int BULK_NODE = 18;
  static final int BULK_EDGE = 19;
  static final int GENERATION_RANGE = 23;
  static final int BULK_STATIC = 38;
  static final int METHOD = 144;

  static final int NODE_BYTES = 32;
  static final int EDGE_BYTES = 12;
  static final int ROOT_BYTES = 21;
  static final int WEAK_ELEMENT_BYTES = 24;

  /** Index u4, count u4, runtime u2 before the entries of most bulk events. */
  static final int BULK_HEAD = 10;

  private NettraceFormat() {}

  static boolean matches(byte[] head) {
    return head.length >= MAGIC.length()
        && new String(head, 0, MAGIC.length(), StandardCharsets.ISO_8859_1).equals(MAGIC);
  }
}
