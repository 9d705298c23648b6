package lipsanon.index;

import java.io.IOException;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.BitSet;
import lipsanon.array.IntArray;
import lipsanon.array.LongArray;
import lipsanon.array.Space;
import lipsanon.graph.Reachability;
import lipsanon.graph.Strength;

/** Writes the columns of an index that need no dominators. */
final class KnownColumns {
  /** So many values are handed over at once. */
  private static final int CHUNK = 1 << 13;

  private final SnapshotContent content;
  private final int count;
  private final Space space;
  private final Path folder;
  private final long build;

  KnownColumns(SnapshotContent content, Space space, Path folder, long build) {
    this.content = content;
    this.count = content.graph().count;
    this.space = space;
    this.folder = folder;
    this.build = build;
  }

  /** Where objects stand in the file. */
  Void writePositions() throws IOException {
    long[] some = new long[CHUNK];
    try (PackedWriter out = column(IndexFiles.POSITION)) {
      for (int n = 0, size; n < count; n += size) {
        size = Math.min(CHUNK, count - n);
        takePositions(n, size, some);
        out.addLongs(some, size);
      }
      out.finish();
    }
    return null;
  }

  private void takePositions(int from, int size, long[] some) {
    LongArray positions = content.positions();
    for (int i = 0; i < size; i++) {
      some[i] = positions.get(from + i) - 1;
    }
  }

  /** Everything else. */
  void write(Reachability.Result reached) throws IOException {
    Path idFile = folder.resolve(IndexFiles.ID.file(build));
    // addresses ascend: an object is found by a search among them
    try (PackedWriter out =
        content.idStyle() == IdStyle.ADDRESS
            ? PackedWriter.ascending(idFile, build, count)
            : new PackedWriter(idFile, build, count)) {
      content.ids().feed(into(out));
      out.finish();
    }
    if (content.idStyle() == IdStyle.SERIAL) {
      writeIdOrder();
    }
    for (SnapshotContent.Extra extra : content.extras()) {
      Path file = folder.resolve(IndexFiles.extra(extra.name(), build));
      try (PackedWriter out = new PackedWriter(file, build, extra.count())) {
        extra.values().feed(into(out));
        out.finish();
      }
    }
    writeInts(IndexFiles.TYPE, content.graph().type);
    writeInts(IndexFiles.DEPTH, reached.depth());
    writeShallow(content.shallow());
    writeStrength(reached);
  }

  private static SnapshotContent.Sink into(PackedWriter out) {
    return new SnapshotContent.Sink() {
      @Override
      public void value(long value) throws IOException {
        out.add(value);
      }

      @Override
      public void values(long[] values, int count) throws IOException {
        out.addLongs(values, count);
      }
    };
  }

  /**
   * Writes the order of the identifiers, a range of them at a time where memory is short: serial
   * numbers are below 2^32, so that one with its object's number fits a word.
   */
  private void writeIdOrder() throws IOException {
    int[] histogram = new int[1 << 16];
    long[] most = new long[1];
    content.ids().feed(id -> most[0] = Math.max(most[0], id));
    // the shift that brings all identifiers into the histogram
    int shift = Math.max(0, Long.SIZE - Long.numberOfLeadingZeros(most[0]) - 16);
    content.ids().feed(id -> histogram[(int) (id >>> shift)]++);
    int atOnce = space.isMapped() ? Math.max(1 << 16, count / 32) : count;
    try (PackedWriter out = column(IndexFiles.ID_ORDER)) {
      for (int from = 0; from < histogram.length; ) {
        int to = from;
        long size = 0;
        while (to < histogram.length && (size == 0 || size + histogram[to] <= atOnce)) {
          size += histogram[to++];
        }
        for (long key : keys((long) from << shift, (long) to << shift, (int) size)) {
          out.add(key & Integer.MAX_VALUE);
        }
        from = to;
      }
      out.finish();
    }
  }

  /** The identifiers of a range with their objects, sorted. */
  private long[] keys(long from, long to, int size) throws IOException {
    long[] keys = new long[size];
    int[] next = new int[2];
    content
        .ids()
        .feed(
            id -> {
              if (id >= from && id < to) {
                keys[next[1]++] = id << Integer.SIZE - 1 | next[0];
              }
              next[0]++;
            });
    if (space.isMapped()) {
      Arrays.sort(keys);
    } else {
      Arrays.parallelSort(keys);
    }
    return keys;
  }

  private void writeInts(IndexFiles file, IntArray values) throws IOException {
    int[] some = new int[CHUNK];
    try (PackedWriter out = column(file)) {
      for (int n = 0, size; n < count; n += size) {
        size = Math.min(CHUNK, count - n);
        values.copyTo(n, some, size);
        out.addInts(some, size);
      }
      out.finish();
    }
  }

  private void writeShallow(IntArray shallow) throws IOException {
    int[] some = new int[CHUNK];
    try (PackedWriter out = column(IndexFiles.SHALLOW)) {
      for (int n = 0, size; n < count; n += size) {
        size = Math.min(CHUNK, count - n);
        shallow.copyTo(n, some, size);
        int all = 0;
        for (int i = 0; i < size; i++) {
          all |= some[i];
        }
        if (all >= 0) {
          out.addInts(some, size);
        } else {
          for (int i = 0; i < size; i++) {
            out.add(Integer.toUnsignedLong(some[i]));
          }
        }
      }
      out.finish();
    }
  }

  private void writeStrength(Reachability.Result reached) throws IOException {
    int[] some = new int[CHUNK];
    int finalizer = reached.finalizer().nextSetBit(0);
    int soft = reached.soft().nextSetBit(0);
    try (PackedWriter out = column(IndexFiles.STRENGTH)) {
      for (int n = 0, size; n < count; n += size) {
        size = Math.min(CHUNK, count - n);
        reached.depth().copyTo(n, some, size);
        boolean other = isIn(finalizer, n, size) || isIn(soft, n, size);
        for (int i = 0; i < size && !other; i++) {
          other = some[i] == 0;
        }
        // few objects are of another kind
        if (!other) {
          out.addSame(Strength.STRONG.ordinal(), size);
          continue;
        }
        for (int i = 0; i < size; i++) {
          some[i] = some[i] == 0 ? Strength.UNRETAINED.ordinal() : Strength.STRONG.ordinal();
        }
        finalizer = mark(some, n, size, reached.finalizer(), finalizer, Strength.FINALIZER);
        soft = mark(some, n, size, reached.soft(), soft, Strength.SOFT);
        out.addInts(some, size);
      }
      out.finish();
    }
  }

  private static boolean isIn(int node, int from, int size) {
    return node >= from && node < from + size;
  }

  /** Marks the nodes of a set from {@code next} on; the first behind the chunk comes back. */
  private static int mark(
      int[] some, int from, int size, BitSet nodes, int next, Strength strength) {
    int n = next;
    for (; n >= 0 && n < from + size; n = nodes.nextSetBit(n + 1)) {
      some[n - from] = strength.ordinal();
    }
    return n;
  }

  /** A column with a value for each object. */
  PackedWriter column(IndexFiles file) throws IOException {
    return new PackedWriter(folder.resolve(file.file(build)), build, count);
  }

  static {
    // the column stores ordinals
    assert Strength.values().length == 4;
  }
}
