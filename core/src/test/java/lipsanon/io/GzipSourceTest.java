package lipsanon.io;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.Random;
import java.util.zip.Deflater;
import java.util.zip.GZIPOutputStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Packed files in every shape, read at random places, against what was packed. */
class GzipSourceTest {
  @TempDir Path folder;

  private static byte[] plain(int size) {
    byte[] bytes = new byte[size];
    Random random = new Random(size);
    for (int i = 0; i < size; i++) {
      bytes[i] = (byte) (i % 100 < 60 ? i / 1000 : random.nextInt(8));
    }
    return bytes;
  }

  private static byte[] member(byte[] bytes, int from, int to) throws IOException {
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    try (GZIPOutputStream gzip = new GZIPOutputStream(out)) {
      gzip.write(bytes, from, to - from);
    }
    return out.toByteArray();
  }

  /**
   * A member with an extra field, a name, a comment and a header checksum, which RFC 1952 allows.
   */
  private static byte[] decoratedMember(byte[] bytes) throws IOException {
    byte[] usual = member(bytes, 0, bytes.length);
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    byte[] head = Arrays.copyOf(usual, 10);
    head[3] = 2 | 4 | 8 | 16;
    out.write(head);
    out.write(new byte[] {3, 0, 'a', 'b', 'c'});
    out.write("berths.hprof\0".getBytes());
    out.write("Port Merrow\0".getBytes());
    out.write(new byte[] {0x12, 0x34});
    out.write(usual, 10, usual.length - 10);
    return out.toByteArray();
  }

  private Path file(byte[]... members) throws IOException {
    ByteArrayOutputStream all = new ByteArrayOutputStream();
    for (byte[] member : members) {
      all.write(member);
    }
    return Files.write(folder.resolve("a.gz"), all.toByteArray());
  }

  private GzipSource open(Path file) throws IOException {
    return GzipSource.open(file, folder.resolve("table"), Progress.NONE);
  }

  private static void assertReads(GzipSource source, byte[] expected, int tries)
      throws IOException {
    assertThat(source.size()).isEqualTo(expected.length);
    Random random = new Random(7);
    for (int i = 0; i < tries; i++) {
      int at = random.nextInt(expected.length + 10);
      byte[] target = new byte[random.nextInt(5000) + 3];
      int got = source.read(at, target, 1, target.length - 2);
      int wanted = Math.max(0, Math.min(target.length - 2, expected.length - at));
      assertThat(got).isEqualTo(wanted);
      assertThat(
              Arrays.equals(
                  target,
                  1,
                  1 + got,
                  expected,
                  Math.min(at, expected.length),
                  Math.min(at, expected.length) + got))
          .as("%d bytes at %d", got, at)
          .isTrue();
    }
  }

  @ParameterizedTest
  @ValueSource(ints = {1, 2, 7, 40})
  void membersAreReadAtAnyPlace(int members) throws Exception {
    byte[] expected = plain(200_000);
    byte[][] parts = new byte[members][];
    for (int i = 0; i < members; i++) {
      parts[i] =
          member(
              expected,
              expected.length / members * i,
              i == members - 1 ? expected.length : expected.length / members * (i + 1));
    }
    Path file = file(parts);
    try (GzipSource source = open(file)) {
      assertReads(source, expected, 300);
    }
    // a second time from the table that the first one left
    assertThat(folder.resolve("table")).exists();
    try (GzipSource source = open(file)) {
      assertReads(source, expected, 300);
      assertThat(source.name()).isEqualTo(file.toString());
    }
  }

  @Test
  void emptyAndDecoratedMembers() throws Exception {
    byte[] expected = plain(3000);
    byte[] twice = Arrays.copyOf(expected, 6000);
    System.arraycopy(expected, 0, twice, 3000, 3000);
    byte[] nothing = member(expected, 0, 0);
    Path file =
        file(nothing, decoratedMember(expected), nothing, nothing, decoratedMember(expected));
    try (GzipSource source = open(file)) {
      assertReads(source, twice, 100);
    }
  }

  @Test
  void aMemberTooLongToBeKeptIsReadForwardsAndBackwards() throws Exception {
    byte[] expected = plain(9 << 20);
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    try (GZIPOutputStream gzip =
        new GZIPOutputStream(out) {
          {
            def.setLevel(Deflater.BEST_SPEED);
          }
        }) {
      gzip.write(expected);
    }
    try (GzipSource source = open(file(out.toByteArray()))) {
      assertReads(source, expected, 12);
    }
  }

  @Test
  void aTableOfAnotherFileIsNotBelieved() throws Exception {
    byte[] first = plain(5000);
    try (GzipSource source = open(file(member(first, 0, first.length)))) {
      assertReads(source, first, 5);
    }
    byte[] second = plain(7000);
    Path file = file(member(second, 0, 3000), member(second, 3000, 7000));
    try (GzipSource source = open(file)) {
      assertReads(source, second, 50);
    }
    Files.write(folder.resolve("table"), new byte[] {1, 2, 3});
    try (GzipSource source = open(file)) {
      assertReads(source, second, 50);
    }
  }

  @Test
  void aCutFileEndsWhereItsDataEnds() throws Exception {
    byte[] expected = plain(100_000);
    byte[] whole = member(expected, 0, expected.length);
    for (int cut = 11; cut < whole.length; cut += 997) {
      Files.deleteIfExists(folder.resolve("table"));
      try (GzipSource source = open(file(Arrays.copyOf(whole, cut)))) {
        assertThat(source.size()).isBetween(0L, (long) expected.length);
        byte[] got = new byte[(int) source.size()];
        assertThat(source.read(0, got, 0, got.length)).isEqualTo(got.length);
        assertThat(got).isEqualTo(Arrays.copyOf(expected, got.length));
      }
    }
  }

  @Test
  void brokenDataIsNamed() throws Exception {
    byte[] whole = member(plain(50_000), 0, 50_000);
    // an impossible kind of block right behind the header
    whole[10] |= 6;
    assertThatThrownBy(() -> open(file(whole)))
        .isInstanceOf(CorruptInputException.class)
        .hasMessageContaining("a.gz")
        .hasMessageContaining("broken compressed data");
    assertThat(GzipSource.matches(whole)).isTrue();
    assertThat(GzipSource.matches(new byte[] {0x1f, (byte) 0x8b})).isFalse();
    assertThat(GzipSource.matches("JAVA PROFILE".getBytes())).isFalse();
  }
}
