package lipsanon.index;

import java.io.IOException;

/** An index is missing parts, damaged, or of another version: build it again. */
public final class BrokenIndexException extends IOException {
  private static final long serialVersionUID = 1L;

  private final transient java.nio.file.Path folder;

  /** With a damaged file of an index, and what is wrong with it. */
  public BrokenIndexException(java.nio.file.Path file, String what) {
    super(file + " " + what);
    this.folder = file.getParent();
  }

  /** The folder of the index that is damaged, or null where none could be built anew. */
  public java.nio.file.Path folder() {
    return folder;
  }

  /** With what is wrong, the file named. */
  public BrokenIndexException(String message) {
    super(message);
    this.folder = null;
  }
}
