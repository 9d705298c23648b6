package lipsanon.index;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.Random;
import lipsanon.array.IntList;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Columns of every width, read one by one and by blocks, over mapped pieces of any size. */
class ColumnTest {
  private static final long BUILD = 4711;

  @TempDir Path folder;

  private long[] values(int count, int bits, long seed) {
    Random random = new Random(seed);
    long[] values = new long[count];
    for (int i = 0; i < count; i++) {
      values[i] = bits == 0 ? 42 : random.nextLong() >> (64 - bits);
    }
    return values;
  }

  @Test
  void everyWidthAndPieceSize() throws Exception {
    for (int bits = 0; bits <= 64; bits++) {
      long[] values = values(64 * 3 + 17, bits, bits);
      Path file = folder.resolve("c" + bits);
      try (PackedWriter writer = new PackedWriter(file, BUILD, values.length)) {
        for (long value : values) {
          writer.add(value);
        }
        writer.finish();
      }
      for (int shift : new int[] {3, 4, 8, 30}) {
        MappedColumn mapped = MappedColumn.open(file, ColumnFormat.PACKED, BUILD, shift);
        check(PackedColumn.of(file, mapped), values);
      }
    }
  }

  @Test
  void intsByTheDozenAndOneByOne() throws Exception {
    for (int seed = 0; seed < 40; seed++) {
      Random random = new Random(seed);
      long[] values = new long[random.nextInt(2000)];
      Path file = folder.resolve("mixed" + seed);
      try (PackedWriter writer = new PackedWriter(file, BUILD, values.length)) {
        for (int done = 0; done < values.length; ) {
          int bits = random.nextInt(33);
          int[] some = new int[Math.min(values.length - done, random.nextInt(300))];
          for (int i = 0; i < some.length; i++) {
            some[i] = bits == 0 ? -5 : random.nextInt() >> 32 - bits;
            values[done + i] = some[i];
          }
          if (bits == 0 && random.nextBoolean()) {
            writer.addSame(-5, some.length);
          } else if (random.nextBoolean()) {
            // what stands behind the count does not count
            writer.addInts(Arrays.copyOf(some, some.length + 9), some.length);
          } else {
            for (int value : some) {
              writer.add(value);
            }
          }
          done += some.length;
        }
        writer.finish();
      }
      check(PackedColumn.open(file, BUILD), values);
    }
  }

  @Test
  void longsByTheDozenAndOneByOne() throws Exception {
    for (int seed = 0; seed < 40; seed++) {
      Random random = new Random(seed);
      long[] values = new long[random.nextInt(2000)];
      Path file = folder.resolve("longs" + seed);
      try (PackedWriter writer = new PackedWriter(file, BUILD, values.length)) {
        for (int done = 0; done < values.length; ) {
          long[] some = values(Math.min(values.length - done, random.nextInt(300)), seed + 1, done);
          System.arraycopy(some, 0, values, done, some.length);
          if (random.nextBoolean()) {
            writer.addLongs(Arrays.copyOf(some, some.length + 9), some.length);
          } else {
            for (long value : some) {
              writer.add(value);
            }
          }
          done += some.length;
        }
        writer.finish();
      }
      check(PackedColumn.open(file, BUILD), values);
    }
  }

  /** Also beyond 2^63, where numbers ascend as unsigned ones. */
  @Test
  void ascendingLongs() throws Exception {
    for (int seed = 0; seed < 40; seed++) {
      Random random = new Random(seed);
      long[] values = new long[random.nextInt(500)];
      long last = seed % 2 == 0 ? random.nextLong() >>> 8 : -1L << 40;
      for (int i = 0; i < values.length; i++) {
        last += random.nextInt(4) == 0 ? 0 : random.nextInt(1 << random.nextInt(20));
        values[i] = last;
      }
      Path file = folder.resolve("ascending" + seed);
      try (PackedWriter writer = PackedWriter.ascending(file, BUILD, values.length)) {
        int first = random.nextInt(values.length + 1);
        for (int i = 0; i < first; i++) {
          writer.add(values[i]);
        }
        writer.addLongs(Arrays.copyOfRange(values, first, values.length), values.length - first);
        writer.finish();
      }
      check(PackedColumn.open(file, BUILD), values);
    }
  }

  private static void check(PackedColumn column, long[] values) throws Exception {
    assertThat(column.count()).isEqualTo(values.length);
    long[] block = new long[64];
    for (int b = 0; b * 64 < values.length; b++) {
      int size = column.block(b, block);
      assertThat(size).isEqualTo(Math.min(64, values.length - b * 64));
      for (int i = 0; i < size; i++) {
        assertThat(block[i]).isEqualTo(values[b * 64 + i]);
        assertThat(column.get(b * 64 + i)).isEqualTo(values[b * 64 + i]);
        assertThat(column.least(b)).isLessThanOrEqualTo(block[i]);
        assertThat(column.bound(b)).isGreaterThanOrEqualTo(block[i]);
      }
    }
    column.check();
  }

  @Test
  void listsComeBackSortedAndWithoutRepetitions() throws Exception {
    Random random = new Random(3);
    int[][] lists = new int[200][];
    for (int i = 0; i < lists.length; i++) {
      lists[i] = random.ints(random.nextInt(9), 0, Integer.MAX_VALUE).sorted().toArray();
    }
    lists[7] = new int[] {1, 1, 1, 5, 5, Integer.MAX_VALUE};
    ListColumn column = written(lists);
    for (int i = 0; i < lists.length; i++) {
      IntList actual = column.get(i);
      assertThat(actual.toArray()).isEqualTo(Arrays.stream(lists[i]).distinct().toArray());
      assertThat(column.isEmpty(i)).isEqualTo(lists[i].length == 0);
    }
    column.check();
  }

  private ListColumn written(int[][] lists) throws Exception {
    try (ListColumn.Writer writer =
        new ListColumn.Writer(folder.resolve("e"), folder.resolve("b"), BUILD, lists.length)) {
      for (int[] list : lists) {
        writer.add(list, list.length);
      }
      writer.finish();
    }
    return ListColumn.open(folder.resolve("e"), folder.resolve("b"), BUILD);
  }

  /** Lists of one, of more than a cursor fetches at once, and of none, in any order. */
  @Test
  void cursorsReadTheSameLists() throws Exception {
    Random random = new Random(5);
    int[][] lists = new int[700][];
    for (int i = 0; i < lists.length; i++) {
      int size = i % 100 == 50 ? 5000 + random.nextInt(9000) : random.nextInt(6);
      lists[i] = random.ints(size, 0, Integer.MAX_VALUE).sorted().distinct().toArray();
    }
    ListColumn column = written(lists);
    ListColumn.Cursor inOrder = column.cursor();
    inOrder.moveTo(0);
    for (int i = 0; i < lists.length; i++) {
      assertThat(Arrays.copyOf(inOrder.list(), inOrder.next())).hasSize(lists[i].length);
      assertThat(Arrays.copyOf(inOrder.list(), lists[i].length)).isEqualTo(lists[i]);
    }
    ListColumn.Cursor anyhow = column.cursor();
    int at = 0;
    anyhow.moveTo(0);
    for (int k = 0; k < 3000; k++) {
      if (random.nextInt(3) > 0 || at == lists.length) {
        at = random.nextInt(lists.length);
        anyhow.moveTo(at);
      }
      int size = anyhow.next();
      assertThat(Arrays.copyOf(anyhow.list(), size)).as("list %d", at).isEqualTo(lists[at]);
      at++;
    }
  }

  @Test
  void longsComeInChunksOfAnySize() throws Exception {
    Random random = new Random(6);
    long[] values = random.longs(5003).toArray();
    Path file = folder.resolve("longs");
    try (PackedWriter writer = new PackedWriter(file, BUILD, values.length)) {
      for (int at = 0; at < values.length; ) {
        int size = Math.min(values.length - at, random.nextInt(200));
        writer.addLongs(Arrays.copyOfRange(values, at, at + size), size);
        at += size;
        if (at < values.length) {
          writer.add(values[at++]);
        }
      }
      writer.finish();
    }
    PackedColumn column = PackedColumn.open(file, BUILD);
    for (int i = 0; i < values.length; i++) {
      assertThat(column.get(i)).isEqualTo(values[i]);
    }
    column.check();
  }

  @Test
  void filesOfAnotherBuildOrCutOffAreRefused() throws Exception {
    Path file = folder.resolve("c");
    try (PackedWriter writer = new PackedWriter(file, BUILD, 100)) {
      for (int i = 0; i < 100; i++) {
        writer.add(i);
      }
      writer.finish();
    }
    assertThatThrownBy(() -> PackedColumn.open(file, BUILD + 1))
        .isInstanceOf(BrokenIndexException.class)
        .hasMessageContaining("another build");
    byte[] whole = Files.readAllBytes(file);
    for (int length = 0; length < whole.length; length++) {
      Files.write(file, Arrays.copyOf(whole, length));
      assertThatThrownBy(() -> PackedColumn.open(file, BUILD).check())
          .as("cut to %d", length)
          .isInstanceOf(BrokenIndexException.class);
    }
  }

  @Test
  void aWriterThatGotTooFewValuesDoesNotFinish() throws Exception {
    try (PackedWriter writer = new PackedWriter(folder.resolve("f"), BUILD, 3)) {
      writer.add(1);
      assertThatThrownBy(writer::finish).isInstanceOf(IllegalStateException.class);
    }
  }
}
