package lipsanon.io;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Random;
import java.util.function.Function;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Both chunks against a plain buffer, from files and from sources that give byte arrays only. */
class ChunkTest {
  private static final List<Function<ByteSource, Chunk>> BOTH =
      List.of(ByteChunk::new, WordChunk::new);

  @TempDir Path folder;

  @Test
  void valuesAtAllPlaces() throws IOException {
    byte[] bytes = new byte[3 * Chunk.CAPACITY + 13];
    Random random = new Random(11);
    random.nextBytes(bytes);
    Path file = Files.write(folder.resolve("values"), bytes);
    try (FileSource plain = new FileSource(file)) {
      for (ByteSource source : List.of(plain, new BytesSource("bytes", bytes))) {
        for (Function<ByteSource, Chunk> kind : BOTH) {
          Chunk chunk = kind.apply(source);
          for (int round = 0; round < 20; round++) {
            long position = random.nextInt(bytes.length);
            long end = Math.min(bytes.length, position + random.nextInt(2 * Chunk.CAPACITY));
            int least = round % 4 == 3 ? 2 * Chunk.CAPACITY : random.nextInt(100);
            chunk.load(position, least, end);
            assertThat(chunk.base()).isEqualTo(position);
            long most = Math.max(Chunk.CAPACITY, least);
            assertThat(chunk.limit()).isEqualTo((int) Math.min(most, end - position));
            check(chunk, ByteBuffer.wrap(bytes), random);
          }
        }
      }
    }
  }

  private static void check(Chunk chunk, ByteBuffer expected, Random random) {
    int base = (int) chunk.base();
    for (int i = 0; i < 200 && chunk.limit() >= 8; i++) {
      // the last places as well, where a word reaches behind what was read
      int place = i < 100 ? random.nextInt(chunk.limit() - 7) : chunk.limit() - 8 - i % 8;
      if (place >= 0) {
        assertThat(chunk.longAt(place)).isEqualTo(expected.getLong(base + place));
        assertThat(chunk.intAt(place + 4)).isEqualTo(expected.getInt(base + place + 4));
        assertThat(chunk.byteAt(place + 7)).isEqualTo(expected.get(base + place + 7));
      }
    }
  }

  @Test
  void nothingBehindTheEnd() throws IOException {
    for (Function<ByteSource, Chunk> kind : BOTH) {
      Chunk chunk = kind.apply(new BytesSource("bytes", new byte[100]));
      chunk.load(40, 0, 100);
      assertThat(chunk.limit()).isEqualTo(60);
      chunk.load(40, 0, 41);
      assertThat(chunk.limit()).isEqualTo(1);
      chunk.load(70, 0, 60);
      assertThat(chunk.limit()).isZero();
      // a file that became shorter meanwhile
      chunk.load(90, 0, 1000);
      assertThat(chunk.limit()).isEqualTo(10);
    }
  }
}
