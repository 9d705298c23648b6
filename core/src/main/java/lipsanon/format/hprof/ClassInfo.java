package lipsanon.format.hprof;

import java.io.DataInput;
import java.io.DataOutput;
import java.io.IOException;
import java.nio.charset.StandardCharsets;

/**
 * A class as its CLASS DUMP has it.
 *
 * @param position offset of the record in the (uncompressed) file
 * @param statics static fields, then constant pool entries that are references
 * @param fields the fields that it declares itself, in the order of the instance records
 */
record ClassInfo(
    long id,
    String name,
    long superId,
    long loader,
    long signers,
    long domain,
    long position,
    Static[] statics,
    Field[] fields) {

  /** A declared instance field. */
  record Field(String name, int type) {}

  /** A static field and its value: an identifier, or the bits of a primitive. */
  record Static(String name, int type, long value) {}

  void write(DataOutput out) throws IOException {
    out.writeLong(id);
    text(out, name);
    out.writeLong(superId);
    out.writeLong(loader);
    out.writeLong(signers);
    out.writeLong(domain);
    out.writeLong(position);
    out.writeInt(statics.length);
    for (Static s : statics) {
      text(out, s.name);
      out.writeByte(s.type);
      out.writeLong(s.value);
    }
    out.writeInt(fields.length);
    for (Field f : fields) {
      text(out, f.name);
      out.writeByte(f.type);
    }
  }

  static ClassInfo read(DataInput in) throws IOException {
    long id = in.readLong();
    String name = text(in);
    long superId = in.readLong();
    long loader = in.readLong();
    long signers = in.readLong();
    long domain = in.readLong();
    long position = in.readLong();
    Static[] statics = new Static[in.readInt()];
    for (int i = 0; i < statics.length; i++) {
      statics[i] = new Static(text(in), in.readByte(), in.readLong());
    }
    Field[] fields = new Field[in.readInt()];
    for (int i = 0; i < fields.length; i++) {
      fields[i] = new Field(text(in), in.readByte());
    }
    return new ClassInfo(id, name, superId, loader, signers, domain, position, statics, fields);
  }

  /** {@code writeUTF} refuses texts of more than 65,535 bytes. */
  private static void text(DataOutput out, String text) throws IOException {
    byte[] bytes = text.getBytes(StandardCharsets.UTF_8);
    out.writeInt(bytes.length);
    out.write(bytes);
  }

  private static String text(DataInput in) throws IOException {
    byte[] bytes = new byte[in.readInt()];
    in.readFully(bytes);
    return new String(bytes, StandardCharsets.UTF_8);
  }
}
