package lipsanon.format.elfcore;

import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import lipsanon.format.metadata.Signature;

/** Static variables: where each stands, by class and field. */
final class Statics {
  private static final int REFERENCES = 24;
  private static final int PLAIN = 16;
  private static final int BACK = 8;
  private static final int THREAD_PLAIN_INDEX = 40;
  private static final int THREAD_REFERENCES_INDEX = 36;

  private Statics() {}

  /**
   * A static variable.
   *
   * @param type the class that declares it
   * @param field which
   * @param slot the address of its value
   */
  record Variable(RuntimeType type, FieldLists.Field field, long slot) {
    String name() {
      return type.name + "." + field.name();
    }

    /** Whether its slot holds a reference: to the object, or to the box of a structure. */
    boolean reference() {
      return Signature.isReference(field.element()) || field.element() == Signature.VALUE_TYPE;
    }
  }

  /** What the runtime keeps beside a type for its statics; 0 if it has none. */
  static long auxiliary(RuntimeTypes types, RuntimeType type) throws IOException {
    CoreMemory memory = types.memory();
    long at = type.address + types.contract().offset("MethodTable.AuxiliaryData", 32);
    if (!memory.holds(at, 8)) {
      return 0;
    }
    long auxiliary = memory.u8(at);
    return (auxiliary & 7) == 0
            && memory.holds(auxiliary - THREAD_PLAIN_INDEX, THREAD_PLAIN_INDEX)
            && memory.u8(auxiliary - BACK) == type.address
        ? auxiliary
        : 0;
  }

  /** The static variables of a type. */
  static List<Variable> of(RuntimeTypes types, FieldLists lists, RuntimeType type)
      throws IOException {
    List<Variable> found = new ArrayList<>();
    long auxiliary = auxiliary(types, type);
    if (auxiliary == 0) {
      return found;
    }
    CoreMemory memory = types.memory();
    long references = memory.u8(auxiliary - REFERENCES) & ~1L;
    long plain = memory.u8(auxiliary - PLAIN) & ~1L;
    for (FieldLists.Field field : lists.declared(type)) {
      if (!field.isStatic() || field.ofThread() || field.inData()) {
        continue;
      }
      Variable variable = new Variable(type, field, 0);
      long area = variable.reference() ? references : plain;
      if (area != 0 && memory.holds(area + field.offset(), 8)) {
        found.add(new Variable(type, field, area + field.offset()));
      }
    }
    return found;
  }

  /** The variables that each thread has, for one thread. */
  static List<Variable> of(
      RuntimeTypes types, FieldLists lists, RuntimeType type, RuntimeThreads.One thread)
      throws IOException {
    List<Variable> found = new ArrayList<>();
    long auxiliary = thread.localData() == 0 ? 0 : auxiliary(types, type);
    if (auxiliary == 0) {
      return found;
    }
    CoreMemory memory = types.memory();
    int references = memory.i4(auxiliary - THREAD_REFERENCES_INDEX);
    int plain = memory.i4(auxiliary - THREAD_PLAIN_INDEX);
    for (FieldLists.Field field : lists.declared(type)) {
      if (!field.ofThread()) {
        continue;
      }
      Variable variable = new Variable(type, field, 0);
      long area = area(memory, thread.localData(), variable.reference() ? references : plain);
      if (area != 0 && memory.holds(area + field.offset(), 8)) {
        found.add(new Variable(type, field, area + field.offset()));
      }
    }
    return found;
  }

  private static long area(CoreMemory memory, long data, int index) throws IOException {
    if (index == -1) {
      return 0;
    }
    int low = index & 0xffffff;
    switch (index >>> 24) {
      case 0:
        // an element of the thread's array: from the third on, behind its length
        long array = memory.u8(data + 8);
        if (!memory.holds(array, 16) || low >= memory.u4(array + 8) + 2) {
          return 0;
        }
        long element = array + 16 + 8L * (low - 2);
        return low < 2 || !memory.holds(element, 8) ? 0 : memory.u8(element);
      case 2:
        return data + low;
      default:
        return 0;
    }
  }
}
