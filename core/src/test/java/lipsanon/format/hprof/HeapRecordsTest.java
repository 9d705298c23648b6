package lipsanon.format.hprof;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.ByteArrayOutputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import lipsanon.io.ByteSource;
import lipsanon.io.BytesSource;
import lipsanon.io.Chunk;
import lipsanon.io.CorruptInputException;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/**
 * Walks over records of all kinds and sizes, in any order, against the list of what was written:
 * objects that end with a piece of memory, begin in its last bytes, or are larger than it.
 */
class HeapRecordsTest {
  /** What a walk tells, as text. */
  private static final class Heard extends HeapRecords {
    final List<String> told = new ArrayList<>();
    private final ClassDumpReader classes;

    Heard(ByteSource source, int idSize) {
      super(source, idSize);
      classes = new ClassDumpReader(source, window, idSize);
    }

    @Override
    void root(int kind, long id, int threadSerial, int number) {
      told.add("root " + kind + " " + id);
    }

    @Override
    void classDump(long position, long id) throws IOException {
      classes.read(position, id);
      told.add("class " + position + " " + id);
    }

    @Override
    void instance(long position, long id, long classId, int at, int length) {
      long sum = 0;
      for (int i = 0; i < length; i++) {
        sum = sum * 31 + chunk.byteAt(at + i);
      }
      told.add("instance " + position + " " + id + " " + classId + " " + length + " " + sum);
    }

    @Override
    void objectArray(long position, long id, long classId, int at, int count) {
      long sum = 0;
      for (int i = 0; i < count; i++) {
        sum = sum * 31 + idAt(at + i * idSize);
      }
      told.add("array " + position + " " + id + " " + classId + " " + count + " " + sum);
    }

    @Override
    void largeArray(long position, long id, long classId, int count) throws IOException {
      long sum = 0;
      for (int i = 0; i < count; i++) {
        window.need(idSize);
        sum = sum * 31 + id();
      }
      told.add("array " + position + " " + id + " " + classId + " " + count + " " + sum);
    }

    @Override
    void primitiveArray(long position, long id, int type, int count) {
      told.add("primitives " + position + " " + id + " " + type + " " + count);
    }
  }

  /** Records and what should be told of them. */
  private static final class Written {
    final ByteArrayOutputStream bytes = new ByteArrayOutputStream();
    final DataOutputStream out = new DataOutputStream(bytes);
    final List<String> expected = new ArrayList<>();
    final List<Integer> ends = new ArrayList<>();
    private final Random random;
    private final int idSize;

    Written(Random random, int idSize, int begin) throws IOException {
      this.random = random;
      this.idSize = idSize;
      out.write(new byte[begin]);
    }

    private long id(long id) throws IOException {
      if (idSize == 8) {
        out.writeLong(id);
      } else {
        out.writeInt((int) id);
      }
      return id;
    }

    /** Any identifier, also those whose highest bit is set. */
    private long any() {
      return idSize == 8 ? random.nextLong() : random.nextInt() & 0xffffffffL;
    }

    void record(int kind, int size) throws IOException {
      int position = out.size();
      switch (kind) {
        case 0 -> {
          out.write(HprofFormat.ROOT_STICKY_CLASS);
          expected.add("root " + HprofFormat.ROOT_STICKY_CLASS + " " + id(any()));
        }
        case 1 -> {
          out.write(HprofFormat.CLASS_DUMP);
          long id = id(any());
          out.writeInt(0);
          for (int i = 0; i < 6; i++) {
            id(0);
          }
          out.writeInt(8);
          out.write(new byte[6]);
          expected.add("class " + position + " " + id);
        }
        case 2 -> instance(position, size);
        case 3 -> objects(position, size / idSize);
        default -> primitives(position, size);
      }
      ends.add(out.size());
    }

    private void instance(int position, int size) throws IOException {
      out.write(HprofFormat.INSTANCE);
      long id = id(any());
      out.writeInt(0);
      long classId = id(any());
      out.writeInt(size);
      long sum = 0;
      byte[] fields = new byte[size];
      random.nextBytes(fields);
      for (byte b : fields) {
        sum = sum * 31 + b;
      }
      out.write(fields);
      expected.add("instance " + position + " " + id + " " + classId + " " + size + " " + sum);
    }

    private void objects(int position, int count) throws IOException {
      out.write(HprofFormat.OBJECT_ARRAY);
      long id = id(any());
      out.writeInt(0);
      out.writeInt(count);
      long classId = id(any());
      long sum = 0;
      for (int i = 0; i < count; i++) {
        sum = sum * 31 + id(any());
      }
      expected.add("array " + position + " " + id + " " + classId + " " + count + " " + sum);
    }

    private void primitives(int position, int size) throws IOException {
      int type = HprofFormat.BOOLEAN + random.nextInt(8);
      int count = size / HprofFormat.bytes(type, idSize);
      out.write(HprofFormat.PRIMITIVE_ARRAY);
      long id = id(any());
      out.writeInt(0);
      out.writeInt(count);
      out.write(type);
      out.write(new byte[count * HprofFormat.bytes(type, idSize)]);
      expected.add("primitives " + position + " " + id + " " + type + " " + count);
    }

    HprofFile.Segment segment(int begin) {
      return new HprofFile.Segment(begin, out.size());
    }
  }

  /** A source that says to be so large that it is read as large files are. */
  private record Large(ByteSource inner) implements ByteSource {
    @Override
    public String name() {
      return inner.name();
    }

    @Override
    public long size() {
      return 3L << 30;
    }

    @Override
    public int read(long position, byte[] target, int offset, int length) throws IOException {
      return inner.read(position, target, offset, length);
    }

    @Override
    public void close() {}
  }

  private static int size(Random random) {
    return switch (random.nextInt(12)) {
      case 0 -> Chunk.CAPACITY - 60 + random.nextInt(120);
      case 1 -> random.nextInt(2 * Chunk.CAPACITY);
      case 2, 3 -> random.nextInt(20_000);
      default -> random.nextInt(200);
    };
  }

  @ParameterizedTest
  @CsvSource({"4, false", "8, false", "4, true", "8, true"})
  void recordsOfAllSizesInAnyOrder(int idSize, boolean large) throws Exception {
    for (int seed = 0; seed < 12; seed++) {
      Random random = new Random(seed);
      int begin = random.nextInt(50);
      Written written = new Written(random, idSize, begin);
      for (int i = 0; i < 300; i++) {
        written.record(random.nextInt(seed % 2 == 0 ? 5 : 9), size(random));
      }
      BytesSource bytes = new BytesSource("records", written.bytes.toByteArray());
      Heard heard = new Heard(large ? new Large(bytes) : bytes, idSize);
      assertThat(heard.walk(written.segment(begin))).isEqualTo(-1);
      assertThat(heard.told).as("seed %d", seed).isEqualTo(written.expected);
    }
  }

  @Test
  void severalSegmentsOneAfterAnother() throws Exception {
    Random random = new Random(3);
    Written written = new Written(random, 8, 7);
    List<HprofFile.Segment> segments = new ArrayList<>();
    for (int s = 0; s < 30; s++) {
      int begin = written.out.size();
      for (int i = random.nextInt(12); i >= 0; i--) {
        written.record(random.nextInt(5), size(random));
      }
      segments.add(written.segment(begin));
      // the header of the next segment
      written.out.write(new byte[9]);
    }
    Heard heard = new Heard(new BytesSource("records", written.bytes.toByteArray()), 8);
    for (HprofFile.Segment segment : segments) {
      assertThat(heard.walk(segment)).isEqualTo(-1);
    }
    assertThat(heard.told).isEqualTo(written.expected);
  }

  /** Whatever byte a file is cut off at, all whole records before it are told, and no other. */
  @Test
  void aCutFileEndsWithItsLastWholeRecord() throws Exception {
    Random random = new Random(5);
    Written written = new Written(random, 8, 0);
    for (int i = 0; i < 12; i++) {
      written.record(i % 5, i == 7 ? Chunk.CAPACITY + 40 : 30);
    }
    byte[] all = written.bytes.toByteArray();
    List<Integer> cuts = new ArrayList<>();
    for (int end : written.ends) {
      for (int near = -40; near <= 40; near++) {
        cuts.add(Math.max(1, Math.min(all.length - 1, end + near)));
      }
    }
    for (int cut : cuts) {
      int whole = (int) written.ends.stream().filter(end -> end <= cut).count();
      Heard heard = new Heard(new BytesSource("cut", java.util.Arrays.copyOf(all, cut)), 8);
      long at = heard.walk(written.segment(0));
      assertThat(at).as("cut at %d", cut).isEqualTo(whole == 0 ? 0 : written.ends.get(whole - 1));
      assertThat(heard.told).isEqualTo(written.expected.subList(0, whole));
    }
  }

  @Test
  void aRecordThatRunsPastItsSegmentIsAnError() throws Exception {
    for (int kind = 0; kind < 5; kind++) {
      Written written = new Written(new Random(kind), 8, 0);
      written.record(2, 10);
      written.record(kind, 64);
      int end = written.out.size();
      // more of the file follows
      written.out.write(new byte[500]);
      BytesSource bytes = new BytesSource("records", written.bytes.toByteArray());
      for (int missing : new int[] {1, 5}) {
        Heard heard = new Heard(bytes, 8);
        assertThatThrownBy(() -> heard.walk(new HprofFile.Segment(0, end - missing)))
            .isInstanceOf(CorruptInputException.class);
        assertThat(heard.told).containsExactly(written.expected.get(0));
      }
    }
  }
}
