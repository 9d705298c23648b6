package lipsanon.format.hprof;

import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import lipsanon.io.ByteSource;
import lipsanon.io.CorruptInputException;
import lipsanon.io.Window;

/** Reads the rest of a CLASS DUMP record, with identifiers of names in place of names. */
final class ClassDumpReader {
  private final ByteSource source;
  private final Window window;
  private final int idSize;

  ClassDumpReader(ByteSource source, Window window, int idSize) {
    this.source = source;
    this.window = window;
    this.idSize = idSize;
  }

  /** A class whose names are not looked up yet. */
  record Raw(
      long id,
      long superId,
      long loader,
      long signers,
      long domain,
      long position,
      List<long[]> constants,
      List<long[]> statics,
      List<long[]> fields) {

    ClassInfo resolve(HprofFile file) throws IOException {
      List<ClassInfo.Static> values = new ArrayList<>();
      for (long[] s : statics) {
        values.add(new ClassInfo.Static(name(file, s[0]), (int) s[1], s[2]));
      }
      for (long[] c : constants) {
        if (c[1] == HprofFormat.OBJECT) {
          values.add(new ClassInfo.Static("<constant " + c[0] + ">", (int) c[1], c[2]));
        }
      }
      ClassInfo.Field[] declared = new ClassInfo.Field[fields.size()];
      for (int i = 0; i < declared.length; i++) {
        long[] f = fields.get(i);
        declared[i] = new ClassInfo.Field(name(file, f[0]), (int) f[1]);
      }
      return new ClassInfo(
          id,
          file.className(id),
          superId,
          loader,
          signers,
          domain,
          position,
          values.toArray(new ClassInfo.Static[0]),
          declared);
    }

    private static String name(HprofFile file, long nameId) throws IOException {
      String name = file.string(nameId);
      // names are at most 65,535 bytes in a class file
      return name == null ? "(field 0x" + Long.toHexString(nameId) + ")" : FieldNames.written(name);
    }
  }

  Raw read(long position, long id) throws IOException {
    window.need(8 + 6 * idSize + 2);
    window.i4();
    long superId = id();
    long loader = id();
    long signers = id();
    long domain = id();
    id();
    id();
    window.i4();
    List<long[]> constants = new ArrayList<>();
    for (int left = window.u2(); left > 0; left--) {
      window.need(3);
      int index = window.u2();
      int type = window.u1();
      constants.add(new long[] {index, type, value(type, position)});
    }
    window.need(2);
    List<long[]> statics = new ArrayList<>();
    for (int left = window.u2(); left > 0; left--) {
      window.need(idSize + 1);
      long name = id();
      int type = window.u1();
      statics.add(new long[] {name, type, value(type, position)});
    }
    window.need(2);
    List<long[]> fields = new ArrayList<>();
    for (int left = window.u2(); left > 0; left--) {
      window.need(idSize + 1);
      long name = id();
      int type = window.u1();
      if (HprofFormat.bytes(type, idSize) == 0) {
        throw new CorruptInputException(
            source.name(), position, "a field of type " + type, "2 or 4 to 11");
      }
      fields.add(new long[] {name, type});
    }
    return new Raw(id, superId, loader, signers, domain, position, constants, statics, fields);
  }

  private long value(int type, long position) throws IOException {
    int bytes = HprofFormat.bytes(type, idSize);
    if (bytes == 0) {
      throw new CorruptInputException(
          source.name(), position, "a static field of type " + type, "2 or 4 to 11");
    }
    window.need(bytes);
    return switch (bytes) {
      case 1 -> (byte) window.u1();
      case 2 -> type == HprofFormat.CHAR ? window.u2() : (short) window.u2();
      case 4 -> type == HprofFormat.OBJECT ? window.u4() : window.i4();
      default -> window.i8();
    };
  }

  private long id() {
    return idSize == 8 ? window.i8() : window.u4();
  }
}
