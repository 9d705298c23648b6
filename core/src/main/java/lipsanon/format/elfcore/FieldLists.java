package lipsanon.format.elfcore;

import java.io.IOException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import lipsanon.format.dotnet.DotnetTypes;
import lipsanon.format.metadata.Metadata;
import lipsanon.format.metadata.Signature;

/**
 * The fields of types, as the runtime lists them: 16 bytes a field, instance fields first.
 *
 * <pre>
 * Field --> table u8 (of the declaring class), row and flags u4 (bit 24 static, 25 of each thread,
 *           26 in the assembly's data), offset u4 (27 bits) with the element type (5 bits)
 * </pre>
 */
final class FieldLists {
  private static final int FIELD_BYTES = 16;
  private static final int LONG_ROW = 0x4000_0000;
  private static final int MOST_FIELDS = 1 << 15;
  private static final int DEEPEST_STRUCTURE = 12;
  private static final int MOST_SLOTS = 1 << 12;

  /** Fields looked at for one type: structures may stand in each other only so often. */
  private static final int MOST_STEPS = 1 << 15;

  private static final int DEEPEST_PARENTS = 64;
  private static final int STATICS_APART = 4;

  private final RuntimeTypes types;
  private final CoreMemory memory;
  private final Map<RuntimeType, List<Field>> fields = new HashMap<>();
  private final Map<RuntimeType, List<Slot>> slots = new HashMap<>();

  private int steps;

  FieldLists(RuntimeTypes types) {
    this.types = types;
    this.memory = types.memory();
  }

  /**
   * A field.
   *
   * @param name its own
   * @param owner the class that declares it
   * @param offset behind the object's first word, in the structure, or in the area of statics
   * @param element the element type
   * @param typeName of its values, as C# writes it
   * @param type the loaded type of a structure or enumeration, or null
   * @param isStatic whether the class has it
   * @param ofThread whether each thread has it
   * @param inData whether it lies in the assembly's data
   */
  record Field(
      String name,
      String owner,
      long offset,
      int element,
      String typeName,
      RuntimeType type,
      boolean isStatic,
      boolean ofThread,
      boolean inData) {}

  /**
   * A value or reference in an object, those inside embedded structures included.
   *
   * @param offset from the object's begin, or the structure's
   * @param path names of the fields on the way, with dots
   * @param owner the class that declares the outermost one
   * @param element the element type
   * @param typeName of the value
   * @param type of an enumeration or structure; else null
   */
  record Slot(
      long offset, String path, String owner, int element, String typeName, RuntimeType type) {}

  /** The fields that a type declares itself, static ones included. */
  List<Field> declared(RuntimeType type) throws IOException {
    List<Field> known = fields.get(type);
    if (known == null) {
      known = readDeclared(type);
      fields.put(type, known);
    }
    return known;
  }

  private List<Field> readDeclared(RuntimeType type) throws IOException {
    List<Field> found = new ArrayList<>();
    if (type.module == null || type.array() || type.eeClass == 0) {
      return found;
    }
    RuntimeContract contract = types.contract();
    long list = memory.u8(type.eeClass + contract.offset("EEClass.FieldDescList", 24));
    int instances =
        memory.u2(type.eeClass + contract.offset("EEClass.NumInstanceFields", 50))
            - parentsInstances(type);
    int statics = memory.u2(type.eeClass + contract.offset("EEClass.NumStaticFields", 54));
    if (instances < 0
        || instances + statics > MOST_FIELDS
        || !memory.holds(list, (long) FIELD_BYTES * (instances + statics))) {
      return found;
    }
    long apart = staticsApart(type);
    for (int i = 0; i < instances + statics; i++) {
      long at = list + (long) FIELD_BYTES * i;
      if (i >= instances && apart != 0) {
        at = apart + (long) FIELD_BYTES * (i - instances);
        if (!memory.holds(at, FIELD_BYTES)) {
          break;
        }
      }
      Field field = field(type, at);
      if (field != null) {
        found.add(field);
      }
    }
    return found;
  }

  private int parentsInstances(RuntimeType type) throws IOException {
    RuntimeType parent = type.parent == 0 ? null : types.at(type.parent);
    if (parent == null || parent.eeClass == 0) {
      return 0;
    }
    return memory.u2(parent.eeClass + types.contract().offset("EEClass.NumInstanceFields", 50));
  }

  /** Where a generic type keeps the list of its own static fields; 0: with the others. */
  private long staticsApart(RuntimeType type) throws IOException {
    int flags2 = memory.i4(type.address + types.contract().offset("MethodTable.MTFlags2", 8));
    long statics = Statics.auxiliary(types, type);
    if (type.arguments.length == 0
        || (flags2 & STATICS_APART) == 0
        || statics == 0
        || !memory.holds(statics - 32, 8)) {
      return 0;
    }
    return memory.u8(statics - 32);
  }

  private Field field(RuntimeType type, long at) throws IOException {
    if (memory.u8(at) != type.canonical && memory.u8(at) != type.address) {
      return null;
    }
    int word = memory.i4(at + 8);
    int place = memory.i4(at + 12);
    int row = (word & LONG_ROW) != 0 ? word & 0xffffff : word & 0x1ffff;
    int element = place >>> 27;
    Metadata metadata = type.module.metadata();
    if (row < 1 || row > metadata.rows(Metadata.FIELD)) {
      return null;
    }
    String name = DotnetTypes.fieldName(metadata.text(metadata.value(Metadata.FIELD, row, 1)));
    Signature signature = metadata.signature(metadata.value(Metadata.FIELD, row, 2));
    SignatureTypes.Resolved resolved =
        signature.next() == Signature.FIELD_HEAD
            ? new SignatureTypes(types, type).resolve(signature)
            : SignatureTypes.UNKNOWN;
    return new Field(
        name,
        type.name,
        place & 0x7ffffff,
        element,
        resolved.name(),
        resolved.type(),
        (word & 1 << 24) != 0,
        (word & 1 << 25) != 0,
        (word & 1 << 26) != 0);
  }

  /** All values in an object (or, of a value type, in the structure), own fields first. */
  List<Slot> slots(RuntimeType type) throws IOException {
    List<Slot> known = slots.get(type);
    if (known == null) {
      known = new ArrayList<>();
      steps = 0;
      RuntimeType up = type;
      for (int i = 0; up != null && i < DEEPEST_PARENTS; i++) {
        collect(up, type.value() ? 0 : 8, "", "", 0, known);
        up = up.parent == 0 || type.value() ? null : types.at(up.parent);
      }
      slots.put(type, known);
    }
    return known;
  }

  private void collect(
      RuntimeType type, long base, String prefix, String owner, int depth, List<Slot> into)
      throws IOException {
    for (Field field : declared(type)) {
      if (field.isStatic() || into.size() >= MOST_SLOTS || ++steps > MOST_STEPS) {
        continue;
      }
      long at = base + field.offset();
      String path = prefix.isEmpty() ? field.name() : prefix + "." + field.name();
      String of = owner.isEmpty() ? field.owner() : owner;
      RuntimeType struct = field.type();
      boolean expand =
          field.element() == Signature.VALUE_TYPE
              && struct != null
              && struct.value()
              && struct != type
              && depth < DEEPEST_STRUCTURE;
      if (expand && WellKnown.text(struct.name) == WellKnown.NONE) {
        collect(struct, at, path, of, depth + 1, into);
      } else {
        into.add(new Slot(at, path, of, field.element(), field.typeName(), struct));
      }
    }
  }
}
