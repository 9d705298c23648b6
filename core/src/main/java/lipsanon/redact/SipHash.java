package lipsanon.redact;

import java.lang.invoke.MethodHandles;
import java.lang.invoke.VarHandle;
import java.nio.ByteOrder;

/**
 * SipHash-2-4 with a result of 128 bits (J.-P. Aumasson, D. J. Bernstein: "SipHash: a fast
 * short-input PRF", 2012, and the variant of the reference code): who does not know the key cannot
 * find out what was hashed by trying. One instance serves one thread.
 */
public final class SipHash {
  /** Bytes of a key. */
  public static final int KEY_BYTES = 16;

  private static final VarHandle LONG =
      MethodHandles.byteArrayViewVarHandle(long[].class, ByteOrder.LITTLE_ENDIAN);

  private final long k0;
  private final long k1;
  private long v0;
  private long v1;
  private long v2;
  private long v3;
  private long first;
  private long second;

  /** With a key of {@link #KEY_BYTES}. */
  public SipHash(byte[] key) {
    if (key.length != KEY_BYTES) {
      throw new IllegalArgumentException("a key of " + key.length + " bytes");
    }
    k0 = (long) LONG.get(key, 0);
    k1 = (long) LONG.get(key, Long.BYTES);
  }

  /** Hashes some bytes; the halves are then to be had. */
  public SipHash hash(byte[] bytes, int from, int to) {
    v0 = k0 ^ 0x736f6d6570736575L;
    v1 = k1 ^ 0x646f72616e646f6dL ^ 0xee;
    v2 = k0 ^ 0x6c7967656e657261L;
    v3 = k1 ^ 0x7465646279746573L;
    int at = from;
    for (; to - at >= Long.BYTES; at += Long.BYTES) {
      word((long) LONG.get(bytes, at));
    }
    long last = (long) (to - from) << 56;
    for (int i = 0; at + i < to; i++) {
      last |= (bytes[at + i] & 0xffL) << 8 * i;
    }
    word(last);
    v2 ^= 0xee;
    rounds(4);
    first = v0 ^ v1 ^ v2 ^ v3;
    v1 ^= 0xdd;
    rounds(4);
    second = v0 ^ v1 ^ v2 ^ v3;
    return this;
  }

  /** The first half of the last hash. */
  public long first() {
    return first;
  }

  /** The second half of the last hash. */
  public long second() {
    return second;
  }

  private void word(long m) {
    v3 ^= m;
    rounds(2);
    v0 ^= m;
  }

  private void rounds(int count) {
    for (int i = 0; i < count; i++) {
      v0 += v1;
      v1 = Long.rotateLeft(v1, 13) ^ v0;
      v0 = Long.rotateLeft(v0, 32);
      v2 += v3;
      v3 = Long.rotateLeft(v3, 16) ^ v2;
      v0 += v3;
      v3 = Long.rotateLeft(v3, 21) ^ v0;
      v2 += v1;
      v1 = Long.rotateLeft(v1, 17) ^ v2;
      v2 = Long.rotateLeft(v2, 32);
    }
  }
}
