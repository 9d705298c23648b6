package lipsanon.format.nettrace;

import java.io.IOException;
import java.util.List;
import lipsanon.io.ByteSource;
import lipsanon.io.TruncatedInputException;

/** Goes through the entries of many bulk events, one after another. */
final class BulkCursor {
  private final ByteSource source;
  private final List<HeapEvents.Bulk> bulks;
  private final int entryBytes;
  private byte[] bytes = new byte[0];
  private int bulk = -1;
  private int at;
  private int end;
  private long base;
  private long passed;

  BulkCursor(ByteSource source, List<HeapEvents.Bulk> bulks, int entryBytes) {
    this.source = source;
    this.bulks = bulks;
    this.entryBytes = entryBytes;
  }

  /** Turns to the next entry; its bytes stand at {@link #at} of what comes back. */
  byte[] next() throws IOException {
    at += entryBytes;
    while (at >= end) {
      load();
    }
    passed++;
    return bytes;
  }

  private void load() throws IOException {
    bulk++;
    if (bulk >= bulks.size()) {
      throw new TruncatedInputException(source.name(), source.size(), "more entries");
    }
    HeapEvents.Bulk next = bulks.get(bulk);
    end = next.count() * entryBytes;
    base = next.position();
    if (bytes.length < end) {
      bytes = new byte[end];
    }
    if (source.read(base, bytes, 0, end) < end) {
      throw new TruncatedInputException(source.name(), source.size(), "a bulk event's entries");
    }
    at = 0;
  }

  /** Where the entry stands in the bytes. */
  int at() {
    return at;
  }

  /** Where it stands in the file. */
  long position() {
    return base + at;
  }

  /** How many entries were turned to. */
  long passed() {
    return passed;
  }
}
