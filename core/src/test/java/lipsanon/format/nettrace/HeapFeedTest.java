package lipsanon.format.nettrace;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.ByteBuffer;
import java.util.Random;
import org.junit.jupiter.api.Test;

/** The stream of a live runtime, in pieces of any size. */
class HeapFeedTest {
  private static NettraceBuilder.Bytes mean(String name, double value) {
    return new NettraceBuilder.Bytes()
        .text(name)
        .text("a title")
        .u8(Double.doubleToLongBits(value))
        .u8(0)
        .u4(1);
  }

  private static NettraceBuilder.Bytes sum(String name, double value) {
    return new NettraceBuilder.Bytes()
        .text(name)
        .text("a title")
        .text("00:00:01")
        .u8(Double.doubleToLongBits(value));
  }

  private static NettraceBuilder.Bytes stats(long... sizes) {
    NettraceBuilder.Bytes stats = new NettraceBuilder.Bytes();
    for (int generation = 0; generation < 4; generation++) {
      stats.u8(sizes[generation]).u8(0);
    }
    return stats.u8(0).u8(0).u4(0).u4(0).u4(0).u2(1).u8(sizes[4]).u8(0);
  }

  private static byte[] stream() {
    return new NettraceBuilder()
        .event(NettraceBuilder.COUNTER, mean("cpu-usage", 7))
        .event(NettraceBuilder.COUNTER, mean("gc-heap-size", 12.5))
        .event(NettraceBuilder.COUNTER, mean("gc-committed", 0))
        .event(NettraceFormat.HEAP_STATS, stats(100, 200, 300, 400, 500))
        .endBlock()
        .event(NettraceBuilder.COUNTER, mean("gc-heap-size", 14.25))
        .event(NettraceBuilder.COUNTER, mean("gc-committed", 20))
        .event(NettraceBuilder.COUNTER, mean("gc-fragmentation", 25))
        .event(NettraceBuilder.COUNTER, sum("total-pause-time-by-gc", 1.5))
        .event(NettraceBuilder.COUNTER, sum("total-pause-time-by-gc", 2.25))
        .event(NettraceFormat.HEAP_STATS, stats(1, 2, 3, 4, 5))
        .sofar();
  }

  @Test
  void nothingIsKnownBeforeItIsTold() {
    HeapFeed feed = new HeapFeed();
    assertThat(feed.heapBytes()).isEqualTo(-1);
    assertThat(feed.committedBytes()).isEqualTo(-1);
    assertThat(feed.left()).isNull();
    assertThat(feed.collections()).isZero();
  }

  @Test
  void piecesOfAnySizeTellTheSame() throws Exception {
    byte[] all = stream();
    for (int seed = 0; seed < 40; seed++) {
      Random random = new Random(seed);
      HeapFeed feed = new HeapFeed();
      int most = 1 + random.nextInt(seed % 2 == 0 ? 40 : 2000);
      for (int at = 0; at < all.length; ) {
        int count = Math.min(all.length - at, 1 + random.nextInt(most));
        feed.feed(ByteBuffer.wrap(all, at, count));
        at += count;
      }
      assertThat(feed.heapBytes()).as("seed " + seed).isEqualTo(14_250_000);
      assertThat(feed.committedBytes()).isEqualTo(20_000_000);
      assertThat(feed.fragmentation()).isEqualTo(0.25);
      assertThat(feed.pauseMillis()).isEqualTo(3.75);
      assertThat(feed.collections()).isEqualTo(2);
      assertThat(feed.left()).containsExactly(1, 2, 3, 4, 5);
    }
  }

  @Test
  void aHalfStreamTellsItsFirstHalf() throws Exception {
    byte[] all = stream();
    HeapFeed feed = new HeapFeed();
    feed.feed(ByteBuffer.wrap(all, 0, all.length - 1));
    // the last block is not whole
    assertThat(feed.heapBytes()).isEqualTo(12_500_000);
    assertThat(feed.committedBytes()).isEqualTo(-1);
    assertThat(feed.left()).containsExactly(100, 200, 300, 400, 500);
    feed.feed(ByteBuffer.wrap(all, all.length - 1, 1));
    assertThat(feed.heapBytes()).isEqualTo(14_250_000);
  }
}
