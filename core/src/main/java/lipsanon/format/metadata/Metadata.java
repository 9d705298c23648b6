package lipsanon.format.metadata;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import lipsanon.io.CorruptInputException;

/**
 * The metadata of an assembly (the open standard ECMA-335, partition II): names of types and
 * fields, signatures, nesting, constants. Only what is asked for is read; all of it is bounded by
 * the bytes that were given.
 *
 * <pre>
 * Root   --> "BSJB" u4, u2, u2, u4, version length u4, version, flags u2, streams u2, Stream*
 * Stream --> offset u4, size u4, name (ended by 0, to a multiple of 4)
 * "#~"   --> u4, u1, u1, heap sizes u1, u1, valid u8, sorted u8, rows u4 for each valid table, rows
 * </pre>
 */
public final class Metadata {
  /** Numbers of tables. */
  public static final int TYPE_REF = 0x01;

  public static final int TYPE_DEF = 0x02;
  public static final int FIELD = 0x04;
  public static final int METHOD = 0x06;
  static final int CONSTANT = 0x0b;
  static final int NESTED_CLASS = 0x29;
  static final int INTERFACES = 0x09;
  static final int TYPE_SPEC = 0x1b;

  private static final int SIGNATURE = 0x424a5342;
  private static final int TABLES = 0x2d;
  private static final int LONGEST_NAME = 4096;
  private static final int DEEPEST_NESTING = 64;

  // columns: s string, g guid, b blob, 2 and 4 bytes, an index into a table as #number, a coded
  // index as *number of the coding
  private static final String[] COLUMNS = {
    "2 s g g g", // 00 Module
    "*R s s", // 01 TypeRef
    "4 s s *T #4 #6", // 02 TypeDef
    "#4", // 03 FieldPtr
    "2 s b", // 04 Field
    "#6", // 05 MethodPtr
    "4 2 2 s b #8", // 06 MethodDef
    "#8", // 07 ParamPtr
    "2 2 s", // 08 Param
    "#2 *T", // 09 InterfaceImpl
    "*P s b", // 0a MemberRef
    "2 *C b", // 0b Constant
    "*A *Y b", // 0c CustomAttribute
    "*M b", // 0d FieldMarshal
    "2 *D b", // 0e DeclSecurity
    "2 4 #2", // 0f ClassLayout
    "4 #4", // 10 FieldLayout
    "b", // 11 StandAloneSig
    "#2 #20", // 12 EventMap
    "#20", // 13 EventPtr
    "2 s *T", // 14 Event
    "#2 #23", // 15 PropertyMap
    "#23", // 16 PropertyPtr
    "2 s b", // 17 Property
    "2 #6 *S", // 18 MethodSemantics
    "#2 *O *O", // 19 MethodImpl
    "s", // 1a ModuleRef
    "b", // 1b TypeSpec
    "2 *F s #26", // 1c ImplMap
    "4 #4", // 1d FieldRVA
    "4 4", // 1e EncLog
    "4", // 1f EncMap
    "4 2 2 2 2 4 b s s", // 20 Assembly
    "4", // 21 AssemblyProcessor
    "4 4 4", // 22 AssemblyOS
    "2 2 2 2 4 b s s b", // 23 AssemblyRef
    "4 #35", // 24 AssemblyRefProcessor
    "4 4 4 #35", // 25 AssemblyRefOS
    "4 s b", // 26 File
    "4 4 s s *I", // 27 ExportedType
    "4 4 s *I", // 28 ManifestResource
    "#2 #2", // 29 NestedClass
    "2 2 *U s", // 2a GenericParam
    "*O b", // 2b MethodSpec
    "#42 *T", // 2c GenericParamConstraint
  };

  /** By letter of a coding: its bits for the table, and its tables. */
  private static final Map<Character, int[]> CODINGS =
      Map.ofEntries(
          Map.entry('T', new int[] {2, 2, 1, 27}),
          Map.entry('R', new int[] {2, 0, 26, 35, 1}),
          Map.entry('C', new int[] {2, 4, 8, 23}),
          Map.entry('P', new int[] {3, 2, 1, 26, 6, 27}),
          Map.entry(
              'A',
              new int[] {
                5, 6, 4, 1, 2, 8, 9, 10, 0, 14, 23, 20, 17, 26, 27, 32, 35, 38, 39, 40, 42, 44, 43
              }),
          Map.entry('Y', new int[] {3, 6, 10}),
          Map.entry('M', new int[] {1, 4, 8}),
          Map.entry('D', new int[] {2, 2, 6, 32}),
          Map.entry('S', new int[] {1, 20, 23}),
          Map.entry('O', new int[] {1, 6, 10}),
          Map.entry('F', new int[] {1, 4, 6}),
          Map.entry('I', new int[] {2, 38, 35, 39}),
          Map.entry('U', new int[] {1, 2, 6}));

  private final String source;
  private final byte[] bytes;
  private int strings = -1;
  private int stringsEnd;
  private int blobs = -1;
  private int blobsEnd;
  private int literals;
  private int literalsEnd;
  private final int[] rows = new int[64];
  private final int[] begins = new int[TABLES];
  private final int[] rowBytes = new int[TABLES];
  private final int[][] columnAt = new int[TABLES][];
  private final int[][] columnBytes = new int[TABLES][];
  private int heapSizes;
  private Map<Integer, Integer> outer;

  /**
   * Opens metadata.
   *
   * @throws CorruptInputException if it is none
   */
  public Metadata(String source, byte[] bytes) throws IOException {
    this.source = source;
    this.bytes = bytes;
    if (u4(0) != SIGNATURE) {
      throw damaged("no metadata");
    }
    int at = 16 + u4(12);
    int streams = u2(at + 2);
    at += 4;
    int tables = -1;
    for (int i = 0; i < streams; i++) {
      int offset = u4(at);
      int size = u4(at + 4);
      at += 8;
      StringBuilder name = new StringBuilder();
      for (; u1(at) != 0; at++) {
        name.append((char) u1(at));
      }
      at = at + 4 & ~3;
      if (offset < 0 || size < 0 || (long) offset + size > bytes.length) {
        throw damaged("a stream beyond its end");
      }
      switch (name.toString()) {
        case "#~", "#-" -> tables = offset;
        case "#Strings" -> {
          strings = offset;
          stringsEnd = offset + size;
        }
        case "#Blob" -> {
          blobs = offset;
          blobsEnd = offset + size;
        }
        case "#US" -> {
          literals = offset;
          literalsEnd = offset + size;
        }
        default -> {}
      }
    }
    if (tables < 0 || strings < 0 || blobs < 0) {
      throw damaged("metadata without tables");
    }
    layout(tables);
  }

  /** Where its texts that are no names stand: begins and lengths. */
  public List<int[]> texts() throws IOException {
    List<int[]> found = new ArrayList<>();
    found.add(new int[] {literals, literalsEnd - literals});
    for (int row = 1; row <= rows(CONSTANT); row++) {
      if ((value(CONSTANT, row, 0) & 0xff) == Signature.STRING) {
        int blob = blobs + value(CONSTANT, row, 2);
        int first = u1(blob);
        int head = first < 0x80 ? 1 : first < 0xc0 ? 2 : 4;
        int length =
            head == 1
                ? first
                : head == 2
                    ? (first & 0x3f) << 8 | u1(blob + 1)
                    : (first & 0x1f) << 24 | u1(blob + 1) << 16 | u1(blob + 2) << 8 | u1(blob + 3);
        found.add(new int[] {blob + head, Math.min(length, blobsEnd - blob - head)});
      }
    }
    return found;
  }

  private void layout(int tables) throws IOException {
    heapSizes = u1(tables + 6);
    long valid = u4(tables + 8) & 0xffff_ffffL | (long) u4(tables + 12) << Integer.SIZE;
    int at = tables + 24;
    for (int t = 0; t < 64; t++) {
      if ((valid >>> t & 1) != 0) {
        rows[t] = u4(at);
        if (rows[t] < 0 || rows[t] > 1 << 24) {
          throw damaged(rows[t] + " rows of a table");
        }
        at += Integer.BYTES;
      }
    }
    if ((heapSizes & 0x40) != 0) {
      at += Integer.BYTES;
    }
    long next = at;
    for (int t = 0; t < TABLES; t++) {
      String[] columns = COLUMNS[t].split(" ");
      columnAt[t] = new int[columns.length];
      columnBytes[t] = new int[columns.length];
      int width = 0;
      for (int c = 0; c < columns.length; c++) {
        columnAt[t][c] = width;
        columnBytes[t][c] = width(columns[c]);
        width += columnBytes[t][c];
      }
      rowBytes[t] = width;
      begins[t] = (int) Math.min(Integer.MAX_VALUE, next);
      next += (long) width * rows[t];
      if (rows[t] > 0 && next > bytes.length) {
        throw damaged("tables beyond its end");
      }
    }
  }

  private int width(String column) {
    switch (column.charAt(0)) {
      case '2':
        return 2;
      case '4':
        return 4;
      case 's':
        return (heapSizes & 1) != 0 ? 4 : 2;
      case 'g':
        return (heapSizes & 2) != 0 ? 4 : 2;
      case 'b':
        return (heapSizes & 4) != 0 ? 4 : 2;
      case '#':
        return rows[Integer.parseInt(column.substring(1))] > 0xffff ? 4 : 2;
      default:
        int[] coding = CODINGS.get(column.charAt(1));
        int most = 0;
        for (int i = 1; i < coding.length; i++) {
          most = Math.max(most, rows[coding[i]]);
        }
        return most >= 1 << 16 - coding[0] ? 4 : 2;
    }
  }

  /** How many rows a table has. */
  public int rows(int table) {
    return rows[table];
  }

  /** A column of a row; rows count from 1. */
  public int value(int table, int row, int column) throws IOException {
    if (row < 1 || row > rows[table]) {
      throw damaged("row " + row + " of table " + table);
    }
    int at = begins[table] + (row - 1) * rowBytes[table] + columnAt[table][column];
    return columnBytes[table][column] == 2 ? u2(at) : u4(at);
  }

  /** A name. */
  public String text(int offset) throws IOException {
    int at = strings + offset;
    if (offset < 0 || at >= stringsEnd) {
      throw damaged("a name beyond its end");
    }
    int end = at;
    while (end < stringsEnd && bytes[end] != 0 && end - at < LONGEST_NAME) {
      end++;
    }
    return new String(bytes, at, end - at, StandardCharsets.UTF_8);
  }

  /** Where a blob's contents begin; its length stands at {@code end[0]}. */
  int blob(int offset, int[] end) throws IOException {
    Signature in = new Signature(this, blobs + offset, blobsEnd);
    int length = in.number();
    if (length < 0 || (long) in.at() + length > blobsEnd) {
      throw damaged("a blob beyond its end");
    }
    end[0] = in.at() + length;
    return in.at();
  }

  /** A signature. */
  public Signature signature(int offset) throws IOException {
    int[] end = new int[1];
    int at = blob(offset, end);
    return new Signature(this, at, end[0]);
  }

  /** A type's name as C# writes it, without arguments: {@code Space.Outer.Inner}. */
  public String typeName(int row) throws IOException {
    return typeName(row, 0);
  }

  private String typeName(int row, int depth) throws IOException {
    String name = plain(text(value(TYPE_DEF, row, 1)));
    Integer around = outer().get(row);
    if (around != null && depth < DEEPEST_NESTING) {
      return typeName(around, depth + 1) + "." + name;
    }
    String space = text(value(TYPE_DEF, row, 2));
    return space.isEmpty() ? name : space + "." + name;
  }

  /** The same of a type elsewhere. */
  public String refName(int row, int depth) throws IOException {
    String name = plain(text(value(TYPE_REF, row, 1)));
    int scope = value(TYPE_REF, row, 0);
    if ((scope & 3) == 3 && depth < DEEPEST_NESTING) {
      return refName(scope >>> 2, depth + 1) + "." + name;
    }
    String space = text(value(TYPE_REF, row, 2));
    return space.isEmpty() ? name : space + "." + name;
  }

  /** Whether a type stands in another one. */
  public boolean nested(int row) throws IOException {
    return outer().containsKey(row);
  }

  private Map<Integer, Integer> outer() throws IOException {
    if (outer == null) {
      outer = new HashMap<>();
      for (int i = 1; i <= rows[NESTED_CLASS]; i++) {
        outer.put(value(NESTED_CLASS, i, 0), value(NESTED_CLASS, i, 1));
      }
    }
    return outer;
  }

  /** Without the number of type parameters. */
  private static String plain(String name) {
    int tick = name.lastIndexOf('`');
    return tick > 0 && name.substring(tick + 1).matches("\\d+") ? name.substring(0, tick) : name;
  }

  /** The constants of an enumeration's fields: value to name. */
  public Map<Long, String> constants(int type) throws IOException {
    Map<Long, String> names = new HashMap<>();
    int from = value(TYPE_DEF, type, 4);
    int to = type < rows[TYPE_DEF] ? value(TYPE_DEF, type + 1, 4) : rows[FIELD] + 1;
    // sorted by what has the constant, in the coding of FIELD, PARAM, PROPERTY
    for (int i = firstConstant(from << 2); i <= rows[CONSTANT]; i++) {
      int parent = value(CONSTANT, i, 1);
      if (parent >= to << 2) {
        break;
      }
      if ((parent & 3) == 0 && parent >>> 2 >= from && parent >>> 2 < to) {
        int[] end = new int[1];
        int at = blob(value(CONSTANT, i, 2), end);
        long bits = 0;
        int length = Math.min(8, end[0] - at);
        for (int b = 0; b < length; b++) {
          bits |= (long) u1(at + b) << Byte.SIZE * b;
        }
        int shift = Long.SIZE - Byte.SIZE * length;
        names.putIfAbsent(bits << shift >>> shift, text(value(FIELD, parent >>> 2, 1)));
      }
    }
    return names;
  }

  private int firstConstant(int parent) throws IOException {
    int low = 1;
    int high = rows[CONSTANT] + 1;
    while (low < high) {
      int middle = low + high >>> 1;
      if (value(CONSTANT, middle, 1) < parent) {
        low = middle + 1;
      } else {
        high = middle;
      }
    }
    return low;
  }

  int u1(int at) throws IOException {
    if (at < 0 || at >= bytes.length) {
      throw damaged("metadata that is cut off");
    }
    return bytes[at] & 0xff;
  }

  private int u2(int at) throws IOException {
    return u1(at) | u1(at + 1) << Byte.SIZE;
  }

  private int u4(int at) throws IOException {
    return u2(at) | u2(at + 2) << Short.SIZE;
  }

  CorruptInputException damaged(String found) {
    return new CorruptInputException(source, 0, found, "metadata of an assembly (ECMA-335)");
  }
}
