package lipsanon.array;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Ranks of addresses against their places in a sorted array, for each way of finding a page. */
class RankBitmapTest {
  /** Pages of 32 KiB and those among which the addresses fall. */
  @ParameterizedTest
  @CsvSource({
    "1, 1",
    "40, 40",
    "300, 340",
    "100, 1000",
    "50, 4000000",
    "60, 100000000",
    "2000, 2001"
  })
  void ranksArePlacesInOrder(int pages, int among) throws Exception {
    Random random = new Random(pages * 31L + among);
    long base = (random.nextInt(1 << 20) + 1L) << 15;
    long[] page = random.longs(pages, 0, among).map(p -> base + (p << 15)).toArray();
    long[] addresses =
        random
            .longs(20_000, 0, pages)
            .map(i -> page[(int) i] + 8L * random.nextInt(1 << 12))
            .distinct()
            .toArray();
    RankBitmap bitmap = RankBitmap.join(collect(addresses, 3));
    Arrays.sort(addresses);

    assertThat(bitmap.count()).isEqualTo(addresses.length);
    for (int i = 0; i < addresses.length; i++) {
      assertThat(bitmap.rank(addresses[i])).isEqualTo(i);
    }
    for (int i = 0; i < 50_000; i++) {
      long other = base + (random.nextInt(among + 4) - 2L << 15) + random.nextInt(1 << 15);
      int place = Arrays.binarySearch(addresses, other);
      assertThat(bitmap.rank(other)).isEqualTo(Math.max(-1, place));
    }
    for (long strange : new long[] {0, 8, -8, -1, Long.MIN_VALUE, Long.MAX_VALUE, 1L << 63 | 8}) {
      assertThat(bitmap.rank(strange)).isEqualTo(-1);
    }
    checkOrder(bitmap, addresses);
  }

  /** Parts go on where the one before ended: its last address is the first of the next one. */
  private static void checkOrder(RankBitmap bitmap, long[] sorted) throws Exception {
    for (int parts : new int[] {1, 2, 5}) {
      int[] last = {-1};
      for (int part = 0; part < parts; part++) {
        int[] next = {Math.max(0, last[0])};
        bitmap.forEach(
            part,
            parts,
            (rank, some, count) -> {
              assertThat(rank).isEqualTo(next[0]);
              assertThat(Arrays.copyOf(some, count))
                  .isEqualTo(Arrays.copyOfRange(sorted, rank, rank + count));
              next[0] += count;
              last[0] = next[0] - 1;
            });
      }
      assertThat(last[0]).isEqualTo(sorted.length - 1);
    }
  }

  @Test
  void noAddressesAtAll() throws Exception {
    RankBitmap bitmap = RankBitmap.join(List.of(new AddressCollector(false)));
    assertThat(bitmap.count()).isZero();
    assertThat(bitmap.rank(0)).isEqualTo(-1);
    assertThat(bitmap.rank(1L << 40)).isEqualTo(-1);
    bitmap.forEach((rank, some, count) -> assertThat(count).isZero());
  }

  @Test
  void theSameAddressInSeveralPartsCountsOnce() {
    AddressCollector one = new AddressCollector(false);
    AddressCollector other = new AddressCollector(false);
    assertThat(one.add(4096)).isTrue();
    assertThat(other.add(4096)).isTrue();
    assertThat(other.add(4104)).isTrue();
    RankBitmap bitmap = RankBitmap.join(List.of(one, other));
    assertThat(bitmap.count()).isEqualTo(2);
    assertThat(bitmap.rank(4104)).isEqualTo(1);
  }

  private static List<AddressCollector> collect(long[] addresses, int parts) {
    List<AddressCollector> collectors = new ArrayList<>();
    for (int i = 0; i < parts; i++) {
      collectors.add(new AddressCollector(false));
    }
    for (int i = 0; i < addresses.length; i++) {
      assertThat(collectors.get(i * parts / addresses.length).add(addresses[i])).isTrue();
    }
    return collectors;
  }
}
