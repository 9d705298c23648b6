package lipsanon.format.hprof;

import java.io.DataInput;
import java.io.DataOutput;
import java.io.IOException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import lipsanon.array.IntList;
import lipsanon.array.LongIntMap;

/**
 * The types of a dump: one for each class that has a CLASS DUMP, one for each kind of primitive
 * array, {@code java.lang.Class} for the class objects, and one for objects whose class is missing.
 */
final class HprofTypes {
  /** What the field {@code referent} means in objects of a type. */
  enum ReferenceKind {
    NONE,
    WEAK,
    SOFT,
    FINALIZER
  }

  static final String CLASS = "java.lang.Class";
  private static final String REFERENCE = "java.lang.ref.Reference";

  /** Real hierarchies have some ten classes; a file must not make each type cost much more. */
  private static final int DEEPEST_CLASS_CHAIN = 256;

  private final int idSize;
  private final List<ClassInfo> classes;
  private final LongIntMap typeOfClass = new LongIntMap();
  private final List<String> names = new ArrayList<>();
  private final int[] primitiveArrayType = new int[HprofFormat.LONG + 1];
  private final int classType;
  private final int unknownType;
  private final int[][] referenceOffsets;
  private final int[] fieldBytes;
  private final int[] referentOffset;
  private final ReferenceKind[] kinds;

  /** With classes in file order, the first of an identifier counting. */
  HprofTypes(List<ClassInfo> classes, int idSize) {
    this.idSize = idSize;
    this.classes = classes;
    Map<String, Integer> byName = new HashMap<>();
    for (int i = 0; i < classes.size(); i++) {
      typeOfClass.put(classes.get(i).id(), i);
      names.add(classes.get(i).name());
      byName.putIfAbsent(classes.get(i).name(), i);
    }
    for (int t = HprofFormat.BOOLEAN; t <= HprofFormat.LONG; t++) {
      primitiveArrayType[t] = named(HprofFormat.primitive(t) + "[]", byName);
    }
    classType = named(CLASS, byName);
    unknownType = names.size();
    names.add("(class missing)");
    referenceOffsets = new int[names.size()][];
    fieldBytes = new int[names.size()];
    referentOffset = new int[names.size()];
    kinds = new ReferenceKind[names.size()];
    for (int t = 0; t < names.size(); t++) {
      describe(t);
    }
  }

  private int named(String name, Map<String, Integer> byName) {
    Integer existing = byName.get(name);
    if (existing != null) {
      return existing;
    }
    names.add(name);
    byName.put(name, names.size() - 1);
    return names.size() - 1;
  }

  private void describe(int t) {
    IntList offsets = new IntList();
    int at = 0;
    referentOffset[t] = -1;
    kinds[t] = ReferenceKind.NONE;
    // a chain that is not whole is not believed beyond the class itself
    List<ClassInfo> chain = chain(t);
    for (ClassInfo c : isWhole(t) || chain.isEmpty() ? chain : chain.subList(0, 1)) {
      if (kinds[t] == ReferenceKind.NONE) {
        kinds[t] = kindOf(c.name());
      }
      for (ClassInfo.Field field : c.fields()) {
        if (field.type() == HprofFormat.OBJECT) {
          if (c.name().equals(REFERENCE) && field.name().equals("referent")) {
            referentOffset[t] = at;
          } else {
            offsets.add(at);
          }
        }
        at += HprofFormat.bytes(field.type(), idSize);
      }
    }
    if (kinds[t] == ReferenceKind.NONE && referentOffset[t] >= 0) {
      offsets.add(referentOffset[t]);
      referentOffset[t] = -1;
    }
    referenceOffsets[t] = offsets.toArray();
    fieldBytes[t] = at;
  }

  private static ReferenceKind kindOf(String name) {
    return switch (name) {
      case "java.lang.ref.WeakReference", "java.lang.ref.PhantomReference" -> ReferenceKind.WEAK;
      case "java.lang.ref.SoftReference" -> ReferenceKind.SOFT;
      case "java.lang.ref.FinalReference" -> ReferenceKind.FINALIZER;
      default -> ReferenceKind.NONE;
    };
  }

  /** The class of a type and its superclasses, as far as the dump has them. */
  List<ClassInfo> chain(int type) {
    List<ClassInfo> chain = new ArrayList<>();
    int t = type;
    while (t >= 0 && t < classes.size() && chain.size() < DEEPEST_CLASS_CHAIN) {
      ClassInfo c = classes.get(t);
      chain.add(c);
      t = c.superId() == 0 ? -1 : typeOfClass.get(c.superId());
    }
    return chain;
  }

  /** Whether a type's superclasses lead to the one that has none: else nothing fits its objects. */
  private boolean isWhole(int type) {
    int t = type;
    for (int i = 0; i < DEEPEST_CLASS_CHAIN; i++) {
      ClassInfo c = t < 0 || t >= classes.size() ? null : classes.get(t);
      if (c == null) {
        return false;
      }
      if (c.superId() == 0) {
        return true;
      }
      t = typeOfClass.get(c.superId());
    }
    return false;
  }

  /** Classes whose superclasses are missing, run in a circle, or go too far up. */
  int brokenChains() {
    int broken = 0;
    for (int t = 0; t < classes.size(); t++) {
      broken += isWhole(t) ? 0 : 1;
    }
    return broken;
  }

  int count() {
    return names.size();
  }

  String name(int type) {
    return names.get(type);
  }

  /** The type of the instances of a class, or -1. */
  int ofClass(long classId) {
    return typeOfClass.get(classId);
  }

  int ofPrimitiveArray(int elementType) {
    return primitiveArrayType[elementType];
  }

  /** The type of class objects. */
  int classType() {
    return classType;
  }

  int unknownType() {
    return unknownType;
  }

  /** The class that a type is, or null. */
  ClassInfo classOf(int type) {
    return type < classes.size() ? classes.get(type) : null;
  }

  List<ClassInfo> classes() {
    return classes;
  }

  /** Where in an instance's field bytes the strong references stand. */
  int[] referenceOffsets(int type) {
    return referenceOffsets[type];
  }

  /** How many field bytes an instance has in the dump. */
  int fieldBytes(int type) {
    return fieldBytes[type];
  }

  /** Where the referent that is not strong stands, or -1. */
  int referentOffset(int type) {
    return referentOffset[type];
  }

  ReferenceKind kind(int type) {
    return kinds[type];
  }

  void write(DataOutput out) throws IOException {
    out.writeInt(classes.size());
    for (ClassInfo c : classes) {
      c.write(out);
    }
  }

  static HprofTypes read(DataInput in, int idSize) throws IOException {
    int count = in.readInt();
    List<ClassInfo> classes = new ArrayList<>(count);
    for (int i = 0; i < count; i++) {
      classes.add(ClassInfo.read(in));
    }
    return new HprofTypes(classes, idSize);
  }
}
