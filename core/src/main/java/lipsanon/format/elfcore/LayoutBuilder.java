package lipsanon.format.elfcore;

import java.io.IOException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import lipsanon.format.metadata.Signature;

/** Makes the layouts that an index keeps of the types that have objects. */
final class LayoutBuilder {
  private static final String ENUM = "System.Enum";

  private final RuntimeTypes types;
  private final FieldLists lists;
  private final TypeLayouts into;
  private final Map<RuntimeType, Integer> enums = new HashMap<>();

  LayoutBuilder(RuntimeTypes types, FieldLists lists, TypeLayouts into) {
    this.types = types;
    this.lists = lists;
    this.into = into;
  }

  /** Adds the layout of a type; the types come in the order of their numbers. */
  void add(RuntimeType type) throws IOException {
    int element = 0;
    String elementType = "";
    int names = -1;
    List<FieldLists.Slot> raw = List.of();
    if (type.array()) {
      RuntimeType of = types.ofHandle(type.element);
      elementType = types.handleName(type.element, 0);
      if (of != null && of.value()) {
        element = primitive(of);
        names = enumeration(of);
        raw = element != 0 ? List.of() : lists.slots(of);
      } else {
        element = of == null ? Signature.POINTER : Signature.CLASS;
      }
    } else if (type.value()) {
      element = primitive(type);
      names = enumeration(type);
      elementType = type.name;
      raw = element != 0 ? List.of() : lists.slots(type);
    } else {
      raw = lists.slots(type);
    }
    // in a box the value begins behind the object's first word
    long shift = type.value() && !type.array() ? 8 : 0;
    List<TypeLayouts.Slot> slots = new ArrayList<>(raw.size());
    for (FieldLists.Slot slot : raw) {
      int ofSlot = slot.type() == null ? -1 : enumeration(slot.type());
      slots.add(
          new TypeLayouts.Slot(
              slot.offset() + shift,
              slot.owner(),
              slot.path(),
              slot.element(),
              slot.typeName(),
              ofSlot));
    }
    into.layouts.add(
        new TypeLayouts.Layout(
            type.baseBytes,
            type.componentBytes,
            type.rank,
            type.array() ? type.dataOffset() : 8,
            element,
            elementType,
            names,
            slots));
  }

  /** The element type of a value type that is one number; 0 for structures. */
  private int primitive(RuntimeType type) throws IOException {
    if (types.extend(type, ENUM) || Primitives.element(type.name) != 0) {
      List<FieldLists.Field> fields =
          lists.declared(type).stream().filter(field -> !field.isStatic()).toList();
      if (fields.size() == 1 && Signature.bytes(fields.get(0).element()) > 0) {
        return fields.get(0).element();
      }
    }
    return 0;
  }

  private int enumeration(RuntimeType type) throws IOException {
    if (type.module == null || !type.value() || !types.extend(type, ENUM)) {
      return -1;
    }
    Integer known = enums.get(type);
    if (known == null) {
      known = into.enums.size();
      into.enums.add(type.module.metadata().constants(type.row));
      enums.put(type, known);
    }
    return known;
  }

  /** The library's types of single numbers. */
  private static final class Primitives {
    static int element(String name) {
      for (int element = Signature.BOOLEAN; element <= Signature.U; element++) {
        if (Signature.bytes(element) > 0 && Signature.name(element).equals(name)) {
          return element;
        }
      }
      return 0;
    }
  }
}
