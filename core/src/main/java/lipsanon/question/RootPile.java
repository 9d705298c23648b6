package lipsanon.question;

import java.util.BitSet;
import java.util.HashMap;
import java.util.Map;
import lipsanon.index.RootInfo;
import lipsanon.index.Snapshot;

/**
 * Objects of one type that nothing keeps but a root of their own each, of a kind that is given out
 * one by one and lasts until it is given back: handles, references of native code.
 */
final class RootPile {
  final String kind;
  final int type;

  /** One of them. */
  final int example;

  long count;

  /** What they retain; none of them retains another. */
  long bytes;

  private RootPile(String kind, int type, int example) {
    this.kind = kind;
    this.type = type;
    this.example = example;
  }

  /** What one kind of root and one type is made of. */
  private record Key(String kind, int type) {}

  /** Those that retain most; null if no object is kept so. Linear in the roots. */
  static RootPile largest(Snapshot snapshot) {
    Map<Key, RootPile> piles = new HashMap<>();
    BitSet seen = new BitSet();
    RootPile largest = null;
    for (RootInfo root : snapshot.roots()) {
      int node = root.node();
      if (!root.givenOut() || seen.get(node) || snapshot.dominator(node) >= 0) {
        continue;
      }
      seen.set(node);
      int type = snapshot.type(node);
      RootPile pile =
          piles.computeIfAbsent(
              new Key(root.kind(), type), key -> new RootPile(key.kind(), type, node));
      pile.count++;
      pile.bytes += snapshot.retainedBytes(node);
      largest = largest == null || pile.bytes > largest.bytes ? pile : largest;
    }
    return largest;
  }
}
