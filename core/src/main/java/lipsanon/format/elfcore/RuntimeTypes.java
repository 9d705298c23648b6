package lipsanon.format.elfcore;

import java.io.IOException;
import java.util.Collection;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import lipsanon.format.metadata.Metadata;
import lipsanon.format.metadata.Signature;
import lipsanon.io.InputException;

/**
 * The types of a dump by the addresses of their method tables. A table is taken for one only where
 * its class structure points back at it and repeats the attributes that the assembly's metadata
 * gives the type.
 */
final class RuntimeTypes {
  private static final int TABLE_BYTES = 64;
  private static final int MOST_ARGUMENTS = 256;
  private static final int MOST_RUNS = 1 << 16;
  private static final int DEEPEST_NAME = 24;
  private static final int LONGEST_NAME = 2000;
  private static final int TYPE_DESC = 2;

  private final CoreMemory memory;
  private final RuntimeContract contract;
  private final long freeTable;
  private final Map<Long, RuntimeType> types = new HashMap<>();
  private final Set<Long> refused = new HashSet<>();
  private final Map<Long, RuntimeModule> modules = new HashMap<>();
  private final Set<Long> noModules = new HashSet<>();
  private int nested;
  private final Map<String, RuntimeType> byName = new HashMap<>();

  RuntimeTypes(CoreMemory memory, RuntimeContract contract, long freeTable) {
    this.memory = memory;
    this.contract = contract;
    this.freeTable = freeTable;
  }

  CoreMemory memory() {
    return memory;
  }

  RuntimeContract contract() {
    return contract;
  }

  Collection<RuntimeType> all() {
    return types.values();
  }

  /** The type whose table stands at an address; null if none does. */
  RuntimeType at(long address) throws IOException {
    RuntimeType known = types.get(address);
    if (known != null || refused.contains(address)) {
      return known;
    }
    RuntimeType read = null;
    try {
      read = read(address);
    } catch (InputException e) {
      // a word that is no table of a type leads anywhere
      read = null;
    }
    if (read == null) {
      refused.add(address);
      return null;
    }
    types.put(address, read);
    // a name leads to the types of its arguments, and these to theirs
    nested++;
    read.name = nested > DEEPEST_NAME ? "(nested too deeply)" : name(read, 0);
    nested--;
    byName.putIfAbsent(read.name, read);
    return read;
  }

  /** A loaded type by its name; null: there is none. */
  RuntimeType named(String name) {
    return byName.get(name);
  }

  private RuntimeModule module(long address) throws IOException {
    RuntimeModule known = modules.get(address);
    if (known == null && !noModules.contains(address)) {
      known = RuntimeModule.at(memory, contract, address);
      if (known == null) {
        noModules.add(address);
      } else {
        modules.put(address, known);
      }
    }
    return known;
  }

  private RuntimeType read(long table) throws IOException {
    if ((table & 7) != 0 || table == 0 || !memory.holds(table, TABLE_BYTES)) {
      return null;
    }
    int flags = memory.i4(table + contract.offset("MethodTable.MTFlags", 0));
    long base = memory.u4(table + contract.offset("MethodTable.BaseSize", 4));
    if (table == freeTable) {
      return new RuntimeType(table, flags, base, 0, null, 0, table, 0, new long[0], 0, 0);
    }
    RuntimeModule module = module(memory.u8(table + contract.offset("MethodTable.Module")));
    if (module == null || base < 16 && !interfaceLike(flags)) {
      return null;
    }
    int row = memory.i4(table + contract.offset("MethodTable.MTFlags2", 8)) >>> 8;
    int classOffset = contract.offset("MethodTable.EEClassOrCanonMT");
    long word = memory.u8(table + classOffset);
    long canonical = (word & 1) != 0 ? word & ~1L : table;
    long eeClass = canonical == table ? word : memory.u8(canonical + classOffset);
    if (memory.u8(eeClass + contract.offset("EEClass.MethodTable")) != canonical) {
      return null;
    }
    boolean array = RuntimeType.isArray(flags) && (flags & RuntimeType.COMPONENTS) != 0;
    if (!array && !sameAttributes(eeClass, module, row)) {
      return null;
    }
    long parent = memory.u8(table + contract.offset("MethodTable.ParentMethodTable"));
    long instances = memory.u8(table + contract.offset("MethodTable.PerInstInfo"));
    boolean generic =
        (flags & RuntimeType.COMPONENTS) == 0 && (flags & RuntimeType.GENERIC_MASK) != 0;
    int rank =
        !array
            ? 0
            : (flags & RuntimeType.ARRAY_MASK) == RuntimeType.VECTOR
                ? 1
                : memory.u1(eeClass + contract.offset("ArrayClass.Rank", 72));
    RuntimeType type =
        new RuntimeType(
            table,
            flags,
            base,
            parent,
            module,
            row,
            canonical,
            eeClass,
            generic ? arguments(instances) : new long[0],
            array ? instances : 0,
            rank);
    if (type.is(RuntimeType.HAS_REFERENCES)) {
      runs(type);
    }
    return type;
  }

  private static boolean interfaceLike(int flags) {
    return (flags & RuntimeType.CATEGORY_MASK) == RuntimeType.CATEGORY_MASK;
  }

  private boolean sameAttributes(long eeClass, RuntimeModule module, int row) throws IOException {
    Metadata metadata = module.metadata();
    return row >= 1
        && row <= metadata.rows(Metadata.TYPE_DEF)
        && memory.i4(eeClass + contract.offset("EEClass.CorTypeAttr"))
            == metadata.value(Metadata.TYPE_DEF, row, 0);
  }

  private long[] arguments(long instances) throws IOException {
    if (!memory.holds(instances - 4, 8)) {
      return new long[0];
    }
    int dictionaries = memory.u2(instances - 4);
    int count = memory.u2(instances - 2);
    if (dictionaries < 1 || dictionaries > MOST_ARGUMENTS || count > MOST_ARGUMENTS) {
      return new long[0];
    }
    long dictionary = memory.u8(instances + 8L * (dictionaries - 1));
    if (!memory.holds(dictionary, 8L * count)) {
      return new long[0];
    }
    long[] handles = new long[count];
    for (int i = 0; i < count; i++) {
      handles[i] = memory.u8(dictionary + 8L * i);
    }
    return handles;
  }

  /** Reads where references stand, as the collector has it in front of the table. */
  private void runs(RuntimeType type) throws IOException {
    long table = type.address;
    long count = memory.u8(table - 8);
    if (Math.abs(count) > MOST_RUNS) {
      throw memory.absent(table);
    }
    if (count > 0) {
      type.runStart = new long[(int) count];
      type.runBytes = new long[(int) count];
      for (int i = 0; i < count; i++) {
        type.runBytes[i] = memory.u8(table - 24 - 16L * i);
        type.runStart[i] = memory.u8(table - 16 - 16L * i);
      }
    } else {
      type.structStart = memory.u8(table - 16);
      type.structCounts = new int[(int) -count];
      type.structSkips = new int[(int) -count];
      for (int i = 0; i < -count; i++) {
        type.structCounts[i] = memory.i4(table - 24 - 8L * i);
        type.structSkips[i] = memory.i4(table - 20 - 8L * i);
      }
    }
  }

  /** A type by its handle; null for what is no class: a pointer, a type parameter. */
  RuntimeType ofHandle(long handle) throws IOException {
    return (handle & TYPE_DESC) != 0 ? null : at(handle);
  }

  private String name(RuntimeType type, int depth) throws IOException {
    if (type.address == freeTable) {
      return "(free)";
    }
    if (type.array()) {
      String inner = handleName(type.element, depth + 1);
      boolean odd = type.rank == 1 && !type.vector();
      return inner + (odd ? "[*]" : "[" + ",".repeat(Math.max(0, type.rank - 1)) + "]");
    }
    String plain = type.module.metadata().typeName(type.row);
    if (type.arguments.length == 0) {
      return plain;
    }
    StringBuilder name = new StringBuilder(plain).append('<');
    for (int i = 0; i < type.arguments.length && name.length() <= LONGEST_NAME; i++) {
      name.append(i == 0 ? "" : ", ").append(handleName(type.arguments[i], depth + 1));
    }
    return name.append('>').toString();
  }

  String handleName(long handle, int depth) throws IOException {
    if (depth > DEEPEST_NAME) {
      return "...";
    }
    if ((handle & TYPE_DESC) != 0) {
      long at = handle & ~TYPE_DESC;
      int kind = memory.holds(at, 32) ? memory.i4(at) & 0xff : 0;
      boolean pointer = kind == Signature.POINTER || kind == Signature.BY_REFERENCE;
      if (!pointer) {
        return "?";
      }
      long of = memory.u8(at + contract.offset("ParamTypeDesc.TypeArg", 16));
      return handleName(of, depth + 1) + (kind == Signature.POINTER ? "*" : "&");
    }
    RuntimeType type = at(handle);
    if (type == null) {
      return "?";
    }
    String name = type.name.isEmpty() ? name(type, depth) : type.name;
    return name.length() > LONGEST_NAME ? name.substring(0, LONGEST_NAME) + "…" : name;
  }

  /** Whether a type's nearest ancestors have a name. */
  boolean extend(RuntimeType type, String name) throws IOException {
    RuntimeType up = type;
    for (int i = 0; i < 4 && up != null; i++) {
      up = up.parent == 0 ? null : at(up.parent);
      if (up != null && up.name.equals(name)) {
        return true;
      }
    }
    return false;
  }

  /**
   * Finds the tables of types that have no objects: a table holds the address of its module.
   *
   * @param heap stretches without any: the objects
   */
  void findAll(List<long[]> heap) throws IOException {
    Set<Long> done = new HashSet<>();
    int offset = contract.offset("MethodTable.Module");
    for (int round = 0; round < 4; round++) {
      Set<Long> wanted = new HashSet<>(modules.keySet());
      wanted.removeAll(done);
      if (wanted.isEmpty()) {
        return;
      }
      done.addAll(wanted);
      long low = wanted.stream().mapToLong(Long::longValue).min().orElse(0);
      long high = wanted.stream().mapToLong(Long::longValue).max().orElse(0);
      for (CoreMemory.Part part : memory.parts()) {
        if (part.writable()) {
          search(part, heap, wanted, low, high, offset);
        }
      }
    }
  }

  private void search(
      CoreMemory.Part part, List<long[]> heap, Set<Long> wanted, long low, long high, int offset)
      throws IOException {
    long at = part.start() + 7 & ~7L;
    while (at + 8 <= part.end()) {
      long skip = 0;
      long next = part.end();
      for (long[] stretch : heap) {
        if (at >= stretch[0] && at < stretch[1]) {
          skip = stretch[1];
        } else if (stretch[0] > at) {
          next = Math.min(next, stretch[0]);
        }
      }
      if (skip > 0) {
        at = skip + 7 & ~7L;
        continue;
      }
      for (; at + 8 <= next; at += 8) {
        long word = memory.glance(at);
        if (word >= low && word <= high && wanted.contains(word)) {
          memory.u8(at);
          at(at - offset);
        }
      }
      at = Math.max(at, next);
    }
  }
}
