package lipsanon.index;

import java.io.Closeable;
import java.io.IOException;
import java.util.List;
import java.util.function.Consumer;
import lipsanon.array.IntList;

/** Shows single objects of a snapshot. Each format has its own implementation. One thread. */
public interface ObjectReader extends Closeable {
  /**
   * A reader of true contents, for what compares them and shows none: this one, unless it hides
   * them. Closed together with this one.
   */
  default ObjectReader contents() {
    return this;
  }

  /** Tells all references out of an object, in the order of the snapshot. */
  void references(int node, Consumer<Reference> sink) throws IOException;

  /**
   * By which reference one object keeps another.
   *
   * @return null if it does not
   */
  Via viaTo(int from, int to) throws IOException;

  /** The fields of an object, or the first elements of an array. */
  List<FieldValue> fields(int node, int atMost) throws IOException;

  /**
   * The contents of a string, or of what else has a natural text.
   *
   * @return at most about {@code atMost} characters, or null if the object has no text
   */
  String text(int node, int atMost) throws IOException;

  /**
   * Tells a string's characters as the runtime keeps them: equal texts have equal bytes.
   *
   * @return how many bytes a character has; 0 where the text must be asked for
   */
  default int textBytes(int node, Bytes sink) throws IOException {
    return 0;
  }

  /**
   * Bytes that each character of a string takes: runtimes keep texts of one byte a character so.
   */
  default int characterBytes(int node, String text) throws IOException {
    for (int i = 0; i < text.length(); i++) {
      if (text.charAt(i) > 0xff) {
        return Character.BYTES;
      }
    }
    return 1;
  }

  /** Whether an object is a string: its text is all there is to it. */
  boolean isString(int node) throws IOException;

  /**
   * What tells an object from others of its type, ready to be printed: a text in quotes, the name
   * of a class or function, a thread's name.
   *
   * @return about {@code atMost} characters at most; "" if there is nothing to say
   */
  String label(int node, int atMost) throws IOException;

  /** A text in quotes, on one line, shortened to about so many characters. */
  static String quoted(String text, int atMost) {
    StringBuilder clean = new StringBuilder("\"");
    for (int i = 0; i < text.length() && i < atMost; i++) {
      char c = text.charAt(i);
      clean.append(Character.isISOControl(c) ? ' ' : c);
    }
    return clean.append(text.length() > atMost ? "…\"" : "\"").toString();
  }

  /**
   * The key that an entry of a table goes by without keeping it: the thread-local variable of a
   * thread's value, the key of a weak map.
   *
   * @return the key's node, or -1 where there is none
   */
  int weakKey(int node) throws IOException;

  /** Whether objects of a type may refer to others without keeping them. */
  default boolean mayReferWeakly(int type) {
    return true;
  }

  /**
   * How an array keeps all that it refers to, where that needs no reading: arrays may be huge.
   *
   * @return null for what is no array, or may refer weakly
   */
  default Via ofArray(int node) {
    return null;
  }

  /**
   * A part of the heap as the runtime divides it.
   *
   * @param name in words
   * @param usedBytes from its begin to its last object
   * @param reservedBytes what is kept for it
   * @param free its gaps between objects
   */
  record Area(String name, long usedBytes, long reservedBytes, Free free) {}

  /**
   * Free blocks between objects.
   *
   * @param blocks how many, or -1 where the snapshot does not tell
   * @param bytes together
   * @param largestBytes of the largest one
   */
  record Free(long blocks, long bytes, long largestBytes) {
    /** Not told. */
    public static final Free UNKNOWN = new Free(-1, 0, 0);
  }

  /**
   * Free blocks of about the same size.
   *
   * @param atLeastBytes the smallest that count here; those of the next line are larger
   * @param blocks how many
   * @param bytes together
   */
  record FreeSize(long atLeastBytes, long blocks, long bytes) {}

  /**
   * Free blocks between objects by size, small ones first; empty where the snapshot does not tell.
   */
  default List<FreeSize> freeSizes() {
    return List.of();
  }

  /** The parts of the heap; empty where the snapshot does not tell. */
  default List<Area> areas() throws IOException {
    return List.of();
  }

  /**
   * Objects that may be kept by nothing.
   *
   * @param objects how many
   * @param bytes their sizes
   */
  record Perhaps(long objects, long bytes) {
    /** None. */
    public static final Perhaps NONE = new Perhaps(0, 0);
  }

  /** What words on threads' stacks alone keep, which may be left over. */
  default Perhaps onStacksAlone() {
    return Perhaps.NONE;
  }

  /** The part of the heap that an object is in; "" where the snapshot does not tell. */
  default String area(int node) throws IOException {
    return "";
  }

  /** Hears the bytes of an array, piece by piece. */
  interface Bytes {
    /** The next ones; the array is the reader's own and changes afterwards. */
    void bytes(byte[] some, int from, int to);
  }

  /**
   * Tells the elements of an array of primitives as the runtime has them.
   *
   * @return how many bytes an element has; 0 if it is no such array, or the snapshot has no values
   */
  default int elements(int node, Bytes sink) throws IOException {
    return 0;
  }

  /** How many elements of an array of references are null, or -1 for what is none. */
  default long nulls(int node) throws IOException {
    return -1;
  }

  /** Whose code a function is. */
  enum Code {
    /** No function, or not known. */
    NONE,
    /** The program's own. */
    OWN,
    /** A library's that the program brings along. */
    LIBRARY,
    /** The runtime's. */
    RUNTIME
  }

  /** Whose code an object is, if it is a function. */
  default Code code(int node) throws IOException {
    return Code.NONE;
  }

  /** The number of elements of an array, or -1. */
  long length(int node) throws IOException;

  /**
   * The contents of a collection or map of the standard library.
   *
   * @return null if the object is none that is known
   */
  Entries entries(int node, int atMost) throws IOException;

  /**
   * Objects that can grow in themselves (arrays, maps, objects used as tables) and hold about so
   * many entries at least; none where the format does not tell that cheaply.
   */
  default IntList containers(int atLeast) throws IOException {
    return new IntList();
  }

  /** The number of entries of such an object, or -1. */
  default long size(int node) throws IOException {
    return -1;
  }

  /**
   * The connection over which the snapshot was taken: identifiers are the same in all snapshots of
   * one. "" if that is not known.
   */
  default String session() throws IOException {
    return "";
  }

  /** Where objects were allocated; null if the snapshot does not tell. */
  default Recording recording() throws IOException {
    return null;
  }

  /** The node of {@link #recording} whose stack allocated an object, or -1. */
  default int origin(int node) throws IOException {
    return -1;
  }

  /** Elements of pages that are in no page any more. */
  default IntList detached() throws IOException {
    return new IntList();
  }

  /**
   * What a collection holds.
   *
   * @param size its size as it says itself, or -1
   * @param entries the first ones
   */
  record Entries(long size, List<Entry> entries) {}

  /**
   * An entry.
   *
   * @param key the node of a map's key; -1 in collections that are no maps and for null
   * @param value the node of the value or element, or -1 for null
   * @param keyText what a key is that is no object, or null
   * @param valueText the same of a value or element
   */
  record Entry(int key, int value, String keyText, String valueText) {
    /** An entry of objects. */
    public Entry(int key, int value) {
      this(key, value, null, null);
    }
  }
}
