package lipsanon.format.elfcore;

import java.io.IOException;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Consumer;
import lipsanon.array.IntList;
import lipsanon.format.dotnet.DelegateParts;
import lipsanon.format.metadata.Signature;
import lipsanon.index.Reference;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;
import lipsanon.index.Via;

/** What single objects of a core dump refer to, and by which field or element. */
final class CoreReferences {
  private static final int PIECE = 1 << 16;
  private static final Via LOADER = new Via(Via.Kind.INTERNAL, "", "loader", -1);

  private final Snapshot snapshot;
  private final CoreObjects objects;
  private final CoreMemory memory;
  private final TypeLayouts layouts;

  /** By key of a conditional weak table: its values. */
  private final Map<Integer, IntList> dependent = new HashMap<>();

  CoreReferences(Snapshot snapshot, CoreObjects objects) {
    this.snapshot = snapshot;
    this.objects = objects;
    this.memory = objects.memory;
    this.layouts = objects.layouts;
    for (int[] pair : layouts.dependent) {
      dependent.computeIfAbsent(pair[0], key -> new IntList()).add(pair[1]);
    }
  }

  private interface Sink {
    /** Hears a reference; false: no more. */
    boolean reference(int target, Via via, Reference.Kind kind) throws IOException;
  }

  private void each(int node, Sink sink) throws IOException {
    TypeLayouts.Layout layout = objects.layout(node);
    List<TypeLayouts.Slot> slots = objects.referenceSlots(snapshot.type(node));
    long at = objects.address(node);
    Map<Long, Via> variables = layouts.variables.getOrDefault(node, Map.of());
    if (layout.rank() == 0) {
      boolean delegate = snapshot.types().get(snapshot.type(node)).is(TypeInfo.Trait.DELEGATE);
      for (TypeLayouts.Slot slot : slots) {
        int target = objects.target(at + slot.offset());
        Via via = delegate ? ofDelegate(slot) : slot.via();
        if (target >= 0 && !sink.reference(target, via, Reference.Kind.STRONG)) {
          return;
        }
      }
    } else {
      boolean plain = Signature.isReference(layout.element());
      long count = plain || !slots.isEmpty() ? objects.elements(node, layout) : 0;
      for (long i = 0; i < count; i++) {
        long element = at + layout.data() + i * layout.componentBytes();
        if (plain) {
          int target = objects.target(element);
          Via variable = variables.get(element - at);
          if (target >= 0
              && !sink.reference(
                  target,
                  variable == null ? new Via(Via.Kind.ELEMENT, "", "", i) : variable,
                  variable == null ? Reference.Kind.STRONG : Reference.Kind.WEAK)) {
            return;
          }
          continue;
        }
        for (TypeLayouts.Slot slot : slots) {
          int target = objects.target(element + slot.offset());
          Via via = new Via(Via.Kind.ELEMENT, "", slot.path(), i);
          if (target >= 0 && !sink.reference(target, via, Reference.Kind.STRONG)) {
            return;
          }
        }
      }
    }
    Integer loader = layouts.loaders.get(snapshot.type(node));
    if (loader != null && !sink.reference(loader, LOADER, Reference.Kind.STRONG)) {
      return;
    }
    IntList values = dependent.get(node);
    for (int i = 0; values != null && i < values.size(); i++) {
      if (!sink.reference(values.get(i), dependentOf(node), Reference.Kind.STRONG)) {
        return;
      }
    }
  }

  private static Via ofDelegate(TypeLayouts.Slot slot) {
    return switch (slot.path()) {
      case "_invocationList" -> DelegateParts.HANDLERS;
      case "_target" -> DelegateParts.TARGET;
      default -> slot.via();
    };
  }

  /** See {@link lipsanon.index.ObjectReader#references}. */
  void references(int node, Consumer<Reference> sink) throws IOException {
    each(
        node,
        (target, via, kind) -> {
          sink.accept(new Reference(target, kind, via));
          return true;
        });
  }

  /** See {@link lipsanon.index.ObjectReader#viaTo}. */
  Via viaTo(int from, int to) throws IOException {
    TypeLayouts.Layout layout = objects.layout(from);
    long wanted = snapshot.rawId(to);
    long at = objects.address(from);
    if (layout.rank() > 0) {
      Via element = elementTo(from, layout, wanted);
      if (element != null) {
        return element;
      }
    } else {
      boolean delegate = snapshot.types().get(snapshot.type(from)).is(TypeInfo.Trait.DELEGATE);
      for (TypeLayouts.Slot slot : objects.referenceSlots(snapshot.type(from))) {
        if (memory.u8(at + slot.offset()) == wanted) {
          return delegate ? ofDelegate(slot) : slot.via();
        }
      }
    }
    Integer loader = layouts.loaders.get(snapshot.type(from));
    if (loader != null && loader == to) {
      return LOADER;
    }
    IntList values = dependent.get(from);
    for (int i = 0; values != null && i < values.size(); i++) {
      if (values.get(i) == to) {
        return dependentOf(from);
      }
    }
    return null;
  }

  /** The element that refers to an address: arrays are long, so nothing is looked up on the way. */
  private Via elementTo(int array, TypeLayouts.Layout layout, long wanted) throws IOException {
    boolean plain = Signature.isReference(layout.element());
    List<TypeLayouts.Slot> slots = objects.referenceSlots(snapshot.type(array));
    if (!plain && slots.isEmpty()) {
      return null;
    }
    Map<Long, Via> variables = layouts.variables.getOrDefault(array, Map.of());
    long count = objects.elements(array, layout);
    int each = layout.componentBytes();
    int atOnce = Math.max(1, PIECE / each);
    byte[] piece = new byte[atOnce * each];
    for (long first = 0; first < count; first += atOnce) {
      int some = (int) Math.min(atOnce, count - first);
      memory.read(objects.address(array) + layout.data() + first * each, piece, 0, some * each);
      for (int i = 0; i < some; i++) {
        if (plain) {
          boolean found = CoreMemory.longAt(piece, i * each) == wanted;
          if (found && !variables.containsKey(layout.data() + (first + i) * each)) {
            return new Via(Via.Kind.ELEMENT, "", "", first + i);
          }
          continue;
        }
        for (TypeLayouts.Slot slot : slots) {
          if (CoreMemory.longAt(piece, i * each + (int) slot.offset()) == wanted) {
            return new Via(Via.Kind.ELEMENT, "", slot.path(), first + i);
          }
        }
      }
    }
    return null;
  }

  /** The reference from the key of a conditional weak table to its value. */
  private Via dependentOf(int key) {
    String what = "what a conditional weak table keeps for a " + snapshot.typeName(key);
    return new Via(Via.Kind.SERVICE, "", what, -1);
  }
}
