package lipsanon.io;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.channels.FileChannel;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.zip.CRC32;
import java.util.zip.DataFormatException;
import java.util.zip.Inflater;

/**
 * A gzip file (RFC 1952), read as what it unpacks to. The JVM writes many members of about a
 * megabyte, one after another: the first pass notes where each begins, and then any can be unpacked
 * alone. A file of one long member is divided by checkpoints: unpacking goes on from where it
 * stands, or from the beginning.
 */
public final class GzipSource implements ByteSource {
  private static final int CACHED = 16;
  private static final int INPUT = 1 << 16;

  private final Path path;
  private final String name;
  private final FileChannel channel;
  private final List<Member> members = new ArrayList<>();
  private long size;
  private final Block[] cache = new Block[CACHED];
  private long clock;
  private Stream stream;

  /** Where a member's deflated data begins, and what of the unpacked bytes it holds. */
  private record Member(long compressed, long begin, long length) {}

  private static final class Block {
    int member;
    byte[] bytes;
    long used;
  }

  private GzipSource(Path path) throws IOException {
    this.path = path;
    this.name = path.toString();
    this.channel = FileChannel.open(path, StandardOpenOption.READ);
  }

  /** Whether a file that begins so is of this format. */
  public static boolean matches(byte[] head) {
    return head.length > 2 && head[0] == 0x1f && (head[1] & 0xff) == 0x8b && head[2] == 8;
  }

  /**
   * Opens a file and unpacks it once to learn its structure. A file that is cut off ends where its
   * last whole piece ends.
   *
   * @param table a file to keep the structure in, for the next time; it need not be there yet
   */
  public static GzipSource open(Path path, Path table, Progress progress) throws IOException {
    GzipSource source = new GzipSource(path);
    try {
      if (!source.load(table)) {
        source.scan(progress);
        source.save(table);
      }
    } catch (IOException e) {
      source.close();
      throw e;
    }
    return source;
  }

  private void scan(Progress progress) throws IOException {
    progress.phase("unpacking", channel.size());
    long at = 0;
    byte[] sink = new byte[1 << 16];
    while (at < channel.size()) {
      Stream member = new Stream(at);
      if (!member.header()) {
        break;
      }
      long begin = size;
      long dataAt = member.position();
      CRC32 crc = new CRC32();
      try {
        int got;
        while ((got = member.inflate(sink, 0, sink.length)) > 0) {
          size += got;
          crc.update(sink, 0, got);
          progress.at(member.position());
        }
      } catch (DataFormatException e) {
        throw new CorruptInputException(name, dataAt, "broken compressed data", "a gzip member");
      }
      members.add(new Member(dataAt, begin, size - begin));
      boolean whole = member.finished();
      at = member.position() + 8;
      member.end();
      if (whole && at <= channel.size()) {
        trailer(at - 8, crc.getValue(), size - begin);
      }
      if (!whole) {
        break;
      }
    }
  }

  /**
   * What a member says of itself at its end (RFC 1952): CRC-32 and length of what it unpacks to.
   */
  private void trailer(long at, long crc, long length) throws IOException {
    ByteBuffer tail = ByteBuffer.allocate(8).order(ByteOrder.LITTLE_ENDIAN);
    channel.read(tail, at);
    tail.flip();
    if (tail.remaining() < 8) {
      return;
    }
    long saidCrc = tail.getInt() & 0xffffffffL;
    long saidLength = tail.getInt() & 0xffffffffL;
    if (saidCrc != crc || saidLength != (length & 0xffffffffL)) {
      throw new CorruptInputException(
          name,
          at,
          "compressed data with CRC-32 " + Long.toHexString(crc) + " and " + length + " bytes",
          Long.toHexString(saidCrc) + " and " + saidLength + ", as its end says");
    }
  }

  /**
   * The table: size and time of the file, then three longs a member, then the CRC-32 of all that;
   * big-endian.
   */
  private void save(Path table) throws IOException {
    ByteBuffer bytes = ByteBuffer.allocate(24 + members.size() * 24);
    bytes.putLong(channel.size()).putLong(Files.getLastModifiedTime(path).toMillis());
    for (Member member : members) {
      bytes.putLong(member.compressed).putLong(member.begin).putLong(member.length);
    }
    bytes.putLong(crcOf(bytes.array(), bytes.position()));
    if (Files.isDirectory(table.getParent(), LinkOption.NOFOLLOW_LINKS)) {
      // a temporary file is readable by its owner only
      Path temporary = Files.createTempFile(table.getParent(), table.getFileName() + "-", ".tmp");
      Files.write(temporary, bytes.array());
      Files.move(temporary, table, StandardCopyOption.REPLACE_EXISTING);
    }
  }

  private static long crcOf(byte[] bytes, int length) {
    CRC32 crc = new CRC32();
    crc.update(bytes, 0, length);
    return crc.getValue();
  }

  /**
   * What is wrong with a table of members that is there.
   *
   * @return "" if nothing is, or there is none
   */
  public static String tableFault(Path table) throws IOException {
    if (!Files.exists(table, LinkOption.NOFOLLOW_LINKS)) {
      return "";
    }
    byte[] bytes = Files.readAllBytes(table);
    int checked = bytes.length - Long.BYTES;
    boolean sound =
        checked >= 16 && ByteBuffer.wrap(bytes).getLong(checked) == crcOf(bytes, checked);
    return sound ? "" : table + " fails its checksum";
  }

  /** A table that does not fit, or is damaged, is made anew. */
  private boolean load(Path table) throws IOException {
    if (!Files.isRegularFile(table, LinkOption.NOFOLLOW_LINKS)) {
      return false;
    }
    ByteBuffer bytes = ByteBuffer.wrap(Files.readAllBytes(table));
    int checked = bytes.remaining() - Long.BYTES;
    if (checked < 16
        || checked % 24 != 16
        || bytes.getLong(checked) != crcOf(bytes.array(), checked)
        || bytes.getLong() != channel.size()
        || bytes.getLong() != Files.getLastModifiedTime(path).toMillis()) {
      return false;
    }
    while (bytes.remaining() > Long.BYTES) {
      members.add(new Member(bytes.getLong(), bytes.getLong(), bytes.getLong()));
    }
    if (!members.isEmpty()) {
      size = members.get(members.size() - 1).begin + members.get(members.size() - 1).length;
    }
    return true;
  }

  @Override
  public String name() {
    return name;
  }

  @Override
  public long size() {
    return size;
  }

  @Override
  public synchronized int read(long position, byte[] target, int offset, int length)
      throws IOException {
    int done = 0;
    while (done < length && position + done < size) {
      int index = memberAt(position + done);
      Member member = members.get(index);
      long inside = position + done - member.begin;
      int want = (int) Math.min(length - done, member.length - inside);
      if (member.length <= 8 << 20) {
        byte[] bytes = block(index).bytes;
        System.arraycopy(bytes, (int) inside, target, offset + done, want);
      } else {
        sequential(index, inside, target, offset + done, want);
      }
      done += want;
    }
    return done;
  }

  private int memberAt(long position) {
    int low = 0;
    int high = members.size() - 1;
    while (low < high) {
      int middle = low + high + 1 >>> 1;
      if (members.get(middle).begin <= position) {
        low = middle;
      } else {
        high = middle - 1;
      }
    }
    // members that unpack to nothing share their beginning with the next one
    while (members.get(low).length == 0) {
      low++;
    }
    return low;
  }

  private Block block(int member) throws IOException {
    Block oldest = null;
    int slot = 0;
    for (int i = 0; i < CACHED; i++) {
      Block block = cache[i];
      if (block != null && block.member == member) {
        block.used = ++clock;
        return block;
      }
      if (block == null || oldest != null && block.used < oldest.used || i == 0) {
        oldest = block;
        slot = i;
        if (block == null) {
          break;
        }
      }
    }
    Block block = new Block();
    block.member = member;
    block.bytes = new byte[(int) members.get(member).length];
    block.used = ++clock;
    Stream from = new Stream(members.get(member).compressed);
    from.fill(block.bytes, 0, block.bytes.length);
    from.end();
    cache[slot] = block;
    return block;
  }

  /**
   * Reads from a member too long to be kept: goes on from where the last reading ended if it can.
   */
  private void sequential(int index, long inside, byte[] target, int offset, int length)
      throws IOException {
    if (stream == null || stream.member != index || stream.unpacked > inside) {
      if (stream != null) {
        stream.end();
      }
      stream = new Stream(members.get(index).compressed);
      stream.member = index;
    }
    byte[] sink = new byte[1 << 16];
    while (stream.unpacked < inside) {
      stream.fill(sink, 0, (int) Math.min(sink.length, inside - stream.unpacked));
    }
    stream.fill(target, offset, length);
  }

  @Override
  public synchronized void close() throws IOException {
    if (stream != null) {
      stream.end();
    }
    channel.close();
  }

  /** Unpacks from one place on. */
  private final class Stream {
    private final Inflater inflater = new Inflater(true);
    private final byte[] input = new byte[INPUT];
    private long next;
    private int member = -1;
    private long unpacked;

    Stream(long at) {
      this.next = at;
    }

    /** Compressed bytes consumed so far, as a position in the file. */
    long position() {
      return next - inflater.getRemaining();
    }

    boolean finished() {
      return inflater.finished();
    }

    void end() {
      inflater.end();
    }

    /** Passes over a member's header; false if the file ends in it. */
    boolean header() throws IOException {
      byte[] head = new byte[10];
      if (bytes(head, 10) < 10) {
        return false;
      }
      if (!matches(head)) {
        if (members.isEmpty()) {
          throw new CorruptInputException(name, next - 10, "no gzip header", "one");
        }
        return false;
      }
      int flags = head[3];
      if ((flags & 4) != 0) {
        byte[] length = new byte[2];
        if (bytes(length, 2) < 2) {
          return false;
        }
        next += (length[0] & 0xff) | (length[1] & 0xff) << 8;
      }
      return text(flags, 8) && text(flags, 16) && hash(flags);
    }

    private boolean hash(int flags) {
      next += (flags & 2) != 0 ? 2 : 0;
      return true;
    }

    private boolean text(int flags, int flag) throws IOException {
      byte[] one = {(byte) ((flags & flag) == 0 ? 0 : 1)};
      while (one[0] != 0) {
        if (bytes(one, 1) < 1) {
          return false;
        }
      }
      return true;
    }

    private int bytes(byte[] target, int count) throws IOException {
      int got = channel.read(ByteBuffer.wrap(target, 0, count), next);
      next += Math.max(0, got);
      return got;
    }

    /** Unpacks up to {@code length} bytes; 0 at the member's or the file's end. */
    int inflate(byte[] target, int offset, int length) throws IOException, DataFormatException {
      while (!inflater.finished()) {
        int got = inflater.inflate(target, offset, length);
        if (got > 0) {
          unpacked += got;
          return got;
        }
        if (inflater.needsInput()) {
          int more = channel.read(ByteBuffer.wrap(input), next);
          if (more <= 0) {
            return 0;
          }
          next += more;
          inflater.setInput(input, 0, more);
        } else if (inflater.needsDictionary()) {
          throw new DataFormatException("needs a dictionary");
        }
      }
      return 0;
    }

    void fill(byte[] target, int offset, int length) throws IOException {
      try {
        for (int done = 0; done < length; ) {
          int got = inflate(target, offset + done, length - done);
          if (got == 0) {
            Arrays.fill(target, offset + done, offset + length, (byte) 0);
            throw new TruncatedInputException(name, next, "compressed data");
          }
          done += got;
        }
      } catch (DataFormatException e) {
        throw new CorruptInputException(name, next, "broken compressed data", "a gzip member");
      }
    }
  }
}
