package lipsanon.question;

import java.util.Arrays;

/** Fingerprints of many objects, in their order, with what they retain; 28 bytes each. */
final class Prints {
  private int size;
  private int[] nodes = new int[64];
  private long[] ones = new long[64];
  private long[] others = new long[64];
  private long[] bytes = new long[64];

  void add(int node, EqualContents.Fingerprint print, long retainedBytes) {
    if (size == nodes.length) {
      int length = size + (size >> 1);
      nodes = Arrays.copyOf(nodes, length);
      ones = Arrays.copyOf(ones, length);
      others = Arrays.copyOf(others, length);
      bytes = Arrays.copyOf(bytes, length);
    }
    nodes[size] = node;
    ones[size] = print.one();
    others[size] = print.other();
    bytes[size] = retainedBytes;
    size++;
  }

  int size() {
    return size;
  }

  int node(int index) {
    return nodes[index];
  }

  long one(int index) {
    return ones[index];
  }

  long other(int index) {
    return others[index];
  }

  long bytes(int index) {
    return bytes[index];
  }
}
