package lipsanon.index;

import java.io.IOException;

/** Makes the reader of single objects for a format: what an index cannot know by itself. */
public interface ObjectReaders {
  /**
   * Opens a reader.
   *
   * @param snapshot its columns are open already
   * @param format the format's key
   * @param detail what the format's reader left in the index
   */
  ObjectReader open(Snapshot snapshot, String format, byte[] detail) throws IOException;
}
