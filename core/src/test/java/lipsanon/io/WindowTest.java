package lipsanon.io;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.ByteArrayOutputStream;
import java.io.DataOutputStream;
import java.util.Random;
import org.junit.jupiter.api.Test;

/** Values read through a window that is smaller than what it shows. */
class WindowTest {
  private static final int COUNT = 500;

  private static byte[] numbers() throws Exception {
    ByteArrayOutputStream bytes = new ByteArrayOutputStream();
    DataOutputStream out = new DataOutputStream(bytes);
    for (int i = 0; i < COUNT; i++) {
      out.writeByte(i);
      out.writeShort(i * 131);
      out.writeInt(i * 1_000_003);
      out.writeLong(i * 1_000_000_007L * 97);
    }
    return bytes.toByteArray();
  }

  @Test
  void everyValueAcrossRefills() throws Exception {
    for (int capacity : new int[] {64, 65, 100, 1 << 12}) {
      Window window = new Window(new BytesSource("numbers", numbers()), capacity);
      for (int i = 0; i < COUNT; i++) {
        assertThat(window.position()).isEqualTo(15L * i);
        assertThat(window.remaining()).isEqualTo(15L * (COUNT - i));
        window.need(15);
        long ahead = window.peekLong(7);
        assertThat(window.peekByte(0)).isEqualTo((byte) i);
        assertThat(window.peekShort(1)).isEqualTo((short) (i * 131));
        assertThat(window.peekUnsignedInt(3)).isEqualTo(i * 1_000_003 & 0xffffffffL);
        assertThat(Window.intAt(window.bytes(), window.begin() + 3)).isEqualTo(i * 1_000_003);
        assertThat(Window.longAt(window.bytes(), window.begin() + 7)).isEqualTo(ahead);
        assertThat(window.limit()).isGreaterThanOrEqualTo(window.begin() + 15);
        assertThat(window.u1()).isEqualTo(i & 0xff);
        assertThat(window.u2()).isEqualTo(i * 131 & 0xffff);
        assertThat(window.u4()).isEqualTo(i * 1_000_003 & 0xffffffffL);
        assertThat(window.i8()).isEqualTo(ahead).isEqualTo(i * 1_000_000_007L * 97);
      }
      assertThat(window.remaining()).isZero();
      assertThatThrownBy(() -> window.need(1)).isInstanceOf(TruncatedInputException.class);
    }
  }

  @Test
  void seeksAndSkipsLandWhereTheyShould() throws Exception {
    byte[] all = numbers();
    Random random = new Random(5);
    Window window = new Window(new BytesSource("numbers", all), 200);
    for (int i = 0; i < 2000; i++) {
      int at = random.nextInt(all.length - 16);
      window.seek(at, all.length);
      int skip = random.nextInt(all.length - 8 - at);
      window.skip(skip);
      assertThat(window.position()).isEqualTo(at + skip);
      window.need(4);
      assertThat(window.i4()).isEqualTo(Window.intAt(all, at + skip));
      byte[] some = new byte[3];
      window.need(3);
      window.copy(some, 0, 3);
      assertThat(some).containsExactly(all[at + skip + 4], all[at + skip + 5], all[at + skip + 6]);
    }
  }

  @Test
  void nothingBehindTheEndIsShown() throws Exception {
    byte[] all = numbers();
    Window window = new Window(new BytesSource("numbers", all), 256);
    window.need(200);
    window.seek(100, 120);
    assertThat(window.end()).isEqualTo(120);
    window.need(20);
    assertThat(window.limit() - window.begin()).isEqualTo(20);
    assertThatThrownBy(() -> window.need(21)).isInstanceOf(TruncatedInputException.class);
    assertThatThrownBy(() -> window.skip(21)).isInstanceOf(TruncatedInputException.class);
    assertThatThrownBy(() -> window.skip(-1)).isInstanceOf(TruncatedInputException.class);
    window.goTo(window.begin() + 16);
    assertThat(window.position()).isEqualTo(116);
    assertThat(window.i4()).isEqualTo(Window.intAt(all, 116));
    window.seek(300, 1_000_000);
    assertThat(window.end()).as("not beyond the source").isEqualTo(all.length);
  }

  @Test
  void aValueLargerThanTheWindow() throws Exception {
    byte[] all = numbers();
    Window window = new Window(new BytesSource("numbers", all), 64);
    window.skip(10);
    window.need(5000);
    byte[] much = new byte[5000];
    window.copy(much, 0, 5000);
    assertThat(much).isEqualTo(java.util.Arrays.copyOfRange(all, 10, 5010));
  }

  @Test
  void aPartAsAStream() throws Exception {
    byte[] all = numbers();
    try (SourceStream stream = new SourceStream(new BytesSource("numbers", all), 30, 90)) {
      assertThat(stream.read()).isEqualTo(all[30] & 0xff);
      assertThat(stream.read(new byte[4], 0, 0)).isZero();
      assertThat(stream.readAllBytes()).isEqualTo(java.util.Arrays.copyOfRange(all, 31, 90));
      assertThat(stream.read()).isEqualTo(-1);
    }
    try (SourceStream stream =
        new SourceStream(new BytesSource("numbers", all), all.length - 3, Long.MAX_VALUE)) {
      assertThat(stream.readAllBytes()).hasSize(3);
    }
  }
}
