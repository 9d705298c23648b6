package lipsanon.format.nettrace;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.util.Arrays;
import lipsanon.io.CorruptInputException;

/**
 * A portable symbol file (the open "Portable PDB" format, version 1.0, on top of the metadata of
 * ECMA-335): which line each instruction of a method comes from.
 *
 * <pre>
 * File     --> "BSJB" u4, u2, u2, u4, version length u4, version, flags u2, streams u2, Stream*
 * Stream   --> offset u4, size u4, name (ended by 0, to a multiple of 4)
 * "#~"     --> u4, u1, u1, heap sizes u1, u1, valid u8, sorted u8, rows u4 for each valid table, rows
 * Document --> name blob, hash algorithm guid, hash blob, language guid
 * MethodDebugInformation --> document, points blob               (row n: method n of the assembly)
 * Points   --> signature c, [document c], (offset c, lines c, columns c or s, line, column)*
 * </pre>
 *
 * c and s are the compressed unsigned and signed numbers of ECMA-335. The first visible point has
 * its line and column as c, later ones what they differ by as s. A point of no lines and columns is
 * hidden; an offset of 0 in a later one changes the document.
 */
final class PortablePdb {
  private static final int SIGNATURE = 0x424a5342;
  private static final int DOCUMENT = 0x30;
  private static final int METHOD_DEBUG_INFORMATION = 0x31;
  private static final long LARGEST = 256L << 20;

  private final Payload in;
  private final byte[] bytes;
  private int blobs;
  private int blobsEnd;
  private int blobIndex = 2;
  private int guidIndex = 2;
  private int documents;
  private int documentRow;
  private int documentsAt;
  private int methods;
  private int methodsAt;

  private PortablePdb(String name, byte[] bytes) throws IOException {
    this.bytes = bytes;
    this.in = new Payload(name);
    in.turnTo(bytes, 0, 0, bytes.length);
    root(name);
  }

  /**
   * Opens the symbols of an assembly.
   *
   * @return null if there are none beside it, or none of this format
   */
  static PortablePdb beside(String assembly) {
    if (!assembly.matches("/.+\\.(dll|exe)")) {
      return null;
    }
    Path file = Path.of(assembly.substring(0, assembly.length() - 4) + ".pdb");
    try {
      boolean fits =
          Files.isRegularFile(file, LinkOption.NOFOLLOW_LINKS) && Files.size(file) <= LARGEST;
      return fits ? new PortablePdb(file.toString(), Files.readAllBytes(file)) : null;
    } catch (IOException | RuntimeException e) {
      // lines are an extra: without them functions are told all the same
      return null;
    }
  }

  private void root(String name) throws IOException {
    if (in.i4() != SIGNATURE) {
      throw new CorruptInputException(name, 0, "no metadata", "a portable symbol file");
    }
    in.skip(2 * Short.BYTES + Integer.BYTES);
    in.skip(in.i4());
    in.skip(Short.BYTES);
    int streams = in.u2();
    int tables = -1;
    for (int i = 0; i < streams; i++) {
      int offset = in.i4();
      int size = in.i4();
      StringBuilder stream = new StringBuilder();
      int length = 0;
      for (int c = in.u1(); c != 0; c = in.u1()) {
        stream.append((char) c);
        length++;
      }
      in.skip(3 - length % 4);
      if (offset < 0 || size < 0 || (long) offset + size > bytes.length) {
        throw new CorruptInputException(name, in.position(), "a stream beyond the end", "less");
      }
      if (stream.toString().equals("#Blob")) {
        blobs = offset;
        blobsEnd = offset + size;
      } else if (stream.toString().equals("#~")) {
        tables = offset;
      }
    }
    if (tables < 0) {
      throw new CorruptInputException(name, 0, "no tables", "stream #~");
    }
    tables(tables);
  }

  private void tables(int at) throws IOException {
    in.turnTo(bytes, 0, at + Integer.BYTES + 2, bytes.length);
    int heaps = in.u1();
    guidIndex = (heaps & 2) != 0 ? 4 : 2;
    blobIndex = (heaps & 4) != 0 ? 4 : 2;
    in.skip(1);
    long valid = in.i8();
    in.skip(Long.BYTES);
    if ((valid & (1L << DOCUMENT) - 1) != 0) {
      throw new CorruptInputException("symbols", at, "tables of an assembly", "those of symbols");
    }
    for (int table = DOCUMENT; table < Long.SIZE; table++) {
      if ((valid >>> table & 1) != 0) {
        int rows = in.i4();
        documents = table == DOCUMENT ? rows : documents;
        methods = table == METHOD_DEBUG_INFORMATION ? rows : methods;
      }
    }
    documentRow = 2 * blobIndex + 2 * guidIndex;
    documentsAt = in.at();
    methodsAt = Math.addExact(documentsAt, Math.multiplyExact(documents, documentRow));
  }

  private int index(int size) throws IOException {
    return size == 2 ? in.u2() : in.i4();
  }

  /** A place in the source. */
  record Place(String document, int line) {}

  /**
   * The line of an instruction.
   *
   * @param token of the method in its assembly
   * @param offset of the instruction in the method's intermediate code
   * @return null if it is not told
   */
  Place line(int token, int offset) {
    try {
      return find(token & 0xff_ffff, offset);
    } catch (IOException | RuntimeException e) {
      // damaged: no line
      return null;
    }
  }

  private Place find(int row, int wanted) throws IOException {
    if (row < 1 || row > methods) {
      return null;
    }
    int documentIndex = documents < 1 << 16 ? 2 : 4;
    in.turnTo(bytes, 0, methodsAt + (row - 1) * (documentIndex + blobIndex), bytes.length);
    int document = index(documentIndex);
    int points = index(blobIndex);
    if (points == 0) {
      return null;
    }
    blob(points);
    unsigned();
    if (document == 0) {
      document = unsigned();
    }
    int best = 0;
    int bestDocument = document;
    int offset = 0;
    int line = 0;
    int column = 0;
    boolean first = true;
    boolean visible = false;
    while (in.remaining() > 0) {
      int delta = unsigned();
      if (delta == 0 && !first) {
        document = unsigned();
        continue;
      }
      offset = first ? delta : offset + delta;
      first = false;
      if (offset > wanted && best > 0) {
        break;
      }
      int lines = unsigned();
      int columns = lines == 0 ? unsigned() : signed();
      if (lines == 0 && columns == 0) {
        continue;
      }
      line = visible ? line + signed() : unsigned();
      column = visible ? column + signed() : unsigned();
      visible = true;
      if (offset <= wanted || best == 0) {
        best = line;
        bestDocument = document;
      }
    }
    return best == 0 ? null : new Place(name(bestDocument), best);
  }

  /** Turns to the contents of a blob. */
  private void blob(int index) throws IOException {
    in.turnTo(bytes, 0, Math.addExact(blobs, index), blobsEnd);
    int length = unsigned();
    in.need(length);
    in.turnTo(bytes, 0, in.at(), in.at() + length);
  }

  private int unsigned() throws IOException {
    int first = in.u1();
    if ((first & 0x80) == 0) {
      return first;
    }
    if ((first & 0x40) == 0) {
      return (first & 0x3f) << 8 | in.u1();
    }
    return (first & 0x1f) << 24 | in.u1() << 16 | in.u1() << 8 | in.u1();
  }

  /** The sign is the lowest bit, and turned to the top. */
  private int signed() throws IOException {
    int before = in.at();
    int value = unsigned();
    int bits =
        switch (in.at() - before) {
          case 1 -> 7;
          case 2 -> 14;
          default -> 29;
        };
    int magnitude = value >>> 1;
    return (value & 1) == 0 ? magnitude : magnitude - (1 << bits - 1);
  }

  /** A document's name: parts with a separator between. */
  private String name(int document) throws IOException {
    if (document < 1 || document > documents) {
      return "";
    }
    in.turnTo(bytes, 0, documentsAt + (document - 1) * documentRow, bytes.length);
    blob(index(blobIndex));
    int separator = in.u1();
    int[] parts = new int[64];
    int count = 0;
    while (in.remaining() > 0 && count < parts.length) {
      parts[count++] = unsigned();
    }
    StringBuilder name = new StringBuilder();
    for (int part : Arrays.copyOf(parts, count)) {
      if (name.length() > 0 || part != parts[0]) {
        name.append(separator == 0 ? "" : (char) separator);
      }
      if (part != 0) {
        blob(part);
        name.append(new String(in.bytes(), in.at(), in.remaining(), StandardCharsets.UTF_8));
      }
    }
    return name.toString();
  }
}
