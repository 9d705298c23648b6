package lipsanon.format.hprof;

import java.io.IOException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Consumer;
import lipsanon.index.Reference;
import lipsanon.index.RootInfo;
import lipsanon.index.Snapshot;
import lipsanon.index.Via;
import lipsanon.io.Window;

/** What single objects of a dump refer to, and by which field or element. */
final class HprofReferences {
  private static final Via CLASS_EDGE = new Via(Via.Kind.INTERNAL, "", "class", -1);
  private static final String CONSTANT = "constant";

  private final Snapshot snapshot;
  private final ObjectRecords records;
  private final Window window;
  private final int idSize;
  private final HprofTypes types;
  private final Map<Integer, ClassInfo> classOfNode;
  private final Map<Integer, List<RootInfo>> localsOfThread = new HashMap<>();
  private final ClojureVars vars;

  HprofReferences(
      Snapshot snapshot,
      ObjectRecords records,
      Map<Integer, ClassInfo> classOfNode,
      ClojureVars vars) {
    this.snapshot = snapshot;
    this.records = records;
    this.window = records.window;
    this.idSize = records.idSize;
    this.types = records.types;
    this.classOfNode = classOfNode;
    this.vars = vars;
    for (RootInfo root : snapshot.roots()) {
      if (root.thread() >= 0) {
        localsOfThread.computeIfAbsent(root.thread(), key -> new ArrayList<>()).add(root);
      }
    }
  }

  /** See {@link lipsanon.index.ObjectReader#references}. */
  void references(int node, Consumer<Reference> sink) throws IOException {
    ObjectRecords.Header header = records.header(node);
    switch (header.tag()) {
      case HprofFormat.INSTANCE -> {
        Via value = vars.isVar(header.type()) ? vars.of(node) : null;
        // to tell its name others were read
        instanceReferences(value == null ? header : records.header(node), value, sink);
      }
      case HprofFormat.OBJECT_ARRAY -> {
        for (int i = 0; i < header.count(); i++) {
          window.need(idSize);
          tell(records.id(), Reference.Kind.STRONG, new Via(Via.Kind.ELEMENT, "", "", i), sink);
        }
      }
      case HprofFormat.CLASS_DUMP -> classReferences(classOfNode.get(node), sink);
      default -> {}
    }
    if (header.tag() == HprofFormat.INSTANCE || header.tag() == HprofFormat.OBJECT_ARRAY) {
      int classNode = header.type() < 0 ? -1 : snapshot.types().get(header.type()).classNode();
      if (classNode >= 0) {
        sink.accept(new Reference(classNode, Reference.Kind.STRONG, CLASS_EDGE));
      }
    }
    for (RootInfo local : localsOfThread.getOrDefault(node, List.of())) {
      sink.accept(new Reference(local.node(), Reference.Kind.STRONG, localVia(local)));
    }
  }

  private static Via localVia(RootInfo local) {
    return new Via(Via.Kind.LOCAL, local.detail(), "", -1);
  }

  /** With the name of a variable's value where the object is one. */
  private void instanceReferences(
      ObjectRecords.Header header, Via value, Consumer<Reference> sink) {
    int referent = types.referentOffset(header.type());
    for (ObjectRecords.Slot slot : records.slots(header.type())) {
      if (slot.type() == HprofFormat.OBJECT && slot.offset() + idSize <= header.count()) {
        Reference.Kind kind = Reference.Kind.STRONG;
        if (slot.offset() == referent) {
          kind =
              switch (types.kind(header.type())) {
                case WEAK -> Reference.Kind.WEAK;
                case SOFT -> Reference.Kind.SOFT;
                case FINALIZER -> Reference.Kind.FINALIZER;
                case NONE -> Reference.Kind.STRONG;
              };
        }
        Via via = value != null && ClojureVars.isValue(slot.via()) ? value : slot.via();
        tell(records.peekId(slot.offset()), kind, via, sink);
      }
    }
  }

  private void classReferences(ClassInfo c, Consumer<Reference> sink) {
    if (c == null) {
      return;
    }
    internal(c.superId(), "superclass", sink);
    internal(c.loader(), "class loader", sink);
    internal(c.signers(), "signers", sink);
    internal(c.domain(), "protection domain", sink);
    for (ClassInfo.Static s : c.statics()) {
      if (s.type() == HprofFormat.OBJECT) {
        tell(s.value(), Reference.Kind.STRONG, viaOf(c, s), sink);
      }
    }
  }

  /** The VM's own notes stand among the statics, with names in angle brackets. */
  static Via viaOf(ClassInfo c, ClassInfo.Static s) {
    if (s.name().startsWith("<")) {
      return new Via(Via.Kind.PART, "", s.name().replaceAll("[<>]", "").replace('_', ' '), -1);
    }
    return ClojureVars.isConstant(s.name())
        ? new Via(Via.Kind.INTERNAL, "", CONSTANT, -1)
        : new Via(Via.Kind.STATIC, c.name(), s.name(), -1);
  }

  private void internal(long id, String name, Consumer<Reference> sink) {
    tell(id, Reference.Kind.STRONG, new Via(Via.Kind.INTERNAL, "", name, -1), sink);
  }

  private void tell(long id, Reference.Kind kind, Via via, Consumer<Reference> sink) {
    if (id != 0) {
      int target = snapshot.nodeOf(id);
      if (target >= 0) {
        sink.accept(new Reference(target, kind, via));
      }
    }
  }

  /** See {@link lipsanon.index.ObjectReader#viaTo}. */
  Via viaTo(int from, int to) throws IOException {
    ObjectRecords.Header header = records.header(from);
    long wanted = snapshot.rawId(to);
    switch (header.tag()) {
      case HprofFormat.INSTANCE -> {
        int referent = types.referentOffset(header.type());
        for (ObjectRecords.Slot slot : records.slots(header.type())) {
          if (slot.type() == HprofFormat.OBJECT
              && slot.offset() != referent
              && slot.offset() + idSize <= header.count()
              && records.peekId(slot.offset()) == wanted) {
            return named(from, header.type(), slot.via());
          }
        }
        if (referent >= 0
            && keepsReferent(header.type(), to)
            && records.peekId(referent) == wanted) {
          return records.slots(header.type()).stream()
              .filter(slot -> slot.offset() == referent)
              .findFirst()
              .orElseThrow()
              .via();
        }
      }
      case HprofFormat.OBJECT_ARRAY -> {
        int index = elementOf(wanted, header.count());
        if (index >= 0) {
          return new Via(Via.Kind.ELEMENT, "", "", index);
        }
      }
      case HprofFormat.CLASS_DUMP -> {
        Via[] found = new Via[1];
        classReferences(
            classOfNode.get(from),
            reference -> {
              boolean better = found[0] == null || found[0].kind() == Via.Kind.INTERNAL;
              if (reference.target() == to && better) {
                found[0] = reference.via();
              }
            });
        if (found[0] != null) {
          return found[0];
        }
      }
      default -> {}
    }
    for (RootInfo local : localsOfThread.getOrDefault(from, List.of())) {
      if (local.node() == to) {
        return localVia(local);
      }
    }
    boolean isClass =
        header.type() >= 0
            && header.tag() != HprofFormat.CLASS_DUMP
            && snapshot.types().get(header.type()).classNode() == to;
    return isClass ? CLASS_EDGE : null;
  }

  private Via named(int node, int type, Via via) throws IOException {
    Via value = vars.isVar(type) && ClojureVars.isValue(via) ? vars.of(node) : null;
    return value == null ? via : value;
  }

  /** The place of an identifier in the array that begins here, or -1. */
  private int elementOf(long wanted, int count) throws IOException {
    for (int i = 0, fit; i < count; i += fit) {
      window.need(idSize);
      int at = window.begin();
      fit = Math.min(count - i, (window.limit() - at) / idSize);
      int found = Elements.find(window.bytes(), at, fit, idSize, wanted);
      if (found >= 0) {
        return i + found;
      }
      window.goTo(at + fit * idSize);
    }
    return -1;
  }

  private boolean keepsReferent(int type, int to) {
    return types.kind(type) == HprofTypes.ReferenceKind.SOFT
        && snapshot.strength(to) != lipsanon.graph.Strength.STRONG;
  }
}
