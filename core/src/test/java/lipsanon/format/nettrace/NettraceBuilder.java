package lipsanon.format.nettrace;

import java.io.ByteArrayOutputStream;
import java.nio.charset.StandardCharsets;

/** Writes small event streams, byte by byte as the format says. */
final class NettraceBuilder {
  private final ByteArrayOutputStream out = new ByteArrayOutputStream();
  private final ByteArrayOutputStream events = new ByteArrayOutputStream();
  private int sequence;
  private long thread = 77;

  /** Little-endian values. */
  static final class Bytes {
    final ByteArrayOutputStream out = new ByteArrayOutputStream();

    Bytes u1(int value) {
      out.write(value);
      return this;
    }

    Bytes u2(int value) {
      return u1(value).u1(value >>> 8);
    }

    Bytes u4(long value) {
      return u2((int) value).u2((int) (value >>> 16));
    }

    Bytes u8(long value) {
      return u4(value).u4(value >>> 32);
    }

    Bytes text(String text) {
      out.writeBytes(text.getBytes(StandardCharsets.UTF_16LE));
      return u2(0);
    }

    byte[] bytes() {
      return out.toByteArray();
    }
  }

  NettraceBuilder() {
    raw("Nettrace".getBytes(StandardCharsets.ISO_8859_1));
    raw(new Bytes().u4(20).bytes());
    raw("!FastSerialization.1".getBytes(StandardCharsets.ISO_8859_1));
    head("Trace", 4);
    Bytes trace = new Bytes();
    for (int part : new int[] {2026, 11, 5, 27, 10, 20, 30, 400}) {
      trace.u2(part);
    }
    raw(trace.u8(0).u8(1_000_000_000).u4(8).u4(1).u4(2).u4(0).bytes());
    raw(new byte[] {6});
    Bytes metadata = new Bytes();
    for (int event : new int[] {1, 2, 4, 10, 15, 16, 17, 18, 19, 23, 38}) {
      kind(metadata, NettraceFormat.RUNTIME, event);
    }
    kind(metadata, NettraceFormat.RUNDOWN, NettraceFormat.METHOD);
    kind(metadata, HeapFeed.COUNTERS, COUNTER);
    block("MetadataBlock", blockHead(metadata.bytes()));
  }

  /** The number of the counters' events, which is any. */
  static final int COUNTER = 900;

  private final int[] ids = new int[1000];
  private int kinds;

  private void kind(Bytes metadata, String provider, int event) {
    byte[] payload =
        new Bytes().u4(++kinds).text(provider).u4(event).text("").u8(0).u4(0).u4(4).u4(0).bytes();
    metadata.u1(128).u1(0);
    varint(metadata.out, payload.length);
    metadata.out.writeBytes(payload);
    ids[event] = kinds;
  }

  /** A block of stacks whose numbers follow each other. */
  NettraceBuilder stacks(int firstId, long[]... stacks) {
    endBlock();
    Bytes body = new Bytes().u4(firstId).u4(stacks.length);
    for (long[] stack : stacks) {
      body.u4(stack.length * 8);
      for (long address : stack) {
        body.u8(address);
      }
    }
    block("StackBlock", body.bytes());
    return this;
  }

  private void raw(byte[] bytes) {
    out.writeBytes(bytes);
  }

  private void head(String name, int version) {
    raw(new byte[] {5, 5, 1});
    raw(new Bytes().u4(version).u4(version == 4 ? 4 : 2).u4(name.length()).bytes());
    raw(name.getBytes(StandardCharsets.ISO_8859_1));
    raw(new byte[] {6});
  }

  private static byte[] blockHead(byte[] events) {
    Bytes block = new Bytes().u2(20).u2(1).u8(0).u8(0);
    block.out.writeBytes(events);
    return block.bytes();
  }

  private void block(String name, byte[] body) {
    head(name, 2);
    raw(new Bytes().u4(body.length).bytes());
    while (out.size() % 4 != 0) {
      out.write(0);
    }
    raw(body);
    raw(new byte[] {6});
  }

  private static void varint(ByteArrayOutputStream to, long value) {
    long left = value;
    while (left >= 0x80) {
      to.write((int) (left & 0x7f) | 0x80);
      left >>>= 7;
    }
    to.write((int) left);
  }

  /** Adds an event to the block that is being written. */
  NettraceBuilder event(int event, Bytes payload) {
    return event(event, 0, payload);
  }

  /** The same with a stack. */
  NettraceBuilder event(int event, int stack, Bytes payload) {
    events.write(1 | 2 | 8 | 128);
    varint(events, ids[event]);
    // in a block numbers count from 0
    varint(events, sequenceInBlock == 0 ? sequence : 0);
    varint(events, thread);
    varint(events, 0);
    varint(events, stack);
    varint(events, 5);
    varint(events, payload.bytes().length);
    events.writeBytes(payload.bytes());
    sequence++;
    sequenceInBlock++;
    return this;
  }

  private int sequenceInBlock;

  /** What is there so far, with no end. */
  byte[] sofar() {
    endBlock();
    return out.toByteArray();
  }

  /** Leaves out numbers of events, as a runtime does that had no room. */
  NettraceBuilder lose(int count) {
    endBlock();
    sequence += count;
    return this;
  }

  NettraceBuilder endBlock() {
    if (events.size() > 0) {
      block("EventBlock", blockHead(events.toByteArray()));
      events.reset();
      sequenceInBlock = 0;
    }
    return this;
  }

  byte[] end() {
    endBlock();
    block("SPBlock", new Bytes().u8(0).u4(1).u8(thread).u4(sequence).bytes());
    raw(new byte[] {1});
    return out.toByteArray();
  }
}
