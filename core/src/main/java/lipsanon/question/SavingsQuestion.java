package lipsanon.question;

import java.io.IOException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.function.IntPredicate;
import lipsanon.array.IntList;
import lipsanon.index.FieldValue;
import lipsanon.index.NodeCursor;
import lipsanon.index.ObjectReader;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;
import lipsanon.index.TypeInfo.Trait;
import lipsanon.index.Via;
import lipsanon.label.Closed;
import lipsanon.label.Labels;
import lipsanon.label.SnapshotSummary;
import lipsanon.label.TypeFilter;

/**
 * Counts what is lost without any leak: equal texts and arrays, arrays of one value, empty and
 * oversized collections, numbers in boxes, what is closed and still held. Only objects that
 * something keeps are looked at.
 */
public final class SavingsQuestion {
  private static final int SHORTEST_ARRAY = 64;
  private static final int HIGHEST = 64;

  private final Snapshot snapshot;
  private final TypeFilter mine;
  private final int limit;
  private final List<SavingsAnswer.Kind> kinds = new ArrayList<>();
  private final List<Pass> passes = new ArrayList<>();

  private SavingsQuestion(Snapshot snapshot, TypeFilter mine, int limit) {
    this.snapshot = snapshot;
    this.mine = mine;
    this.limit = limit;
  }

  /**
   * Asks.
   *
   * @param mine what counts as the user's own
   * @param limit places at most of each kind
   */
  public static SavingsAnswer ask(Snapshot snapshot, TypeFilter mine, int limit)
      throws IOException {
    SavingsQuestion question = new SavingsQuestion(snapshot, mine, limit);
    new SavingsContents(snapshot, limit).tell(question::add);
    question.collections();
    question.boxes();
    question.wrappers();
    question.closed();
    question.walk();
    question.loadedTwice();
    question.detached();
    question.finalizing();
    question.kinds.sort(Comparator.comparingLong(SavingsAnswer.Kind::bytes).reversed());
    return new SavingsAnswer(SnapshotSummary.of(snapshot), List.copyOf(question.kinds));
  }

  private void add(SavingsAnswer.Kind kind) {
    if (kind != null) {
      kinds.add(kind);
    }
  }

  /** A look at objects of some types, and what is told when all were looked at. */
  private record Pass(IntPredicate which, TypedNodes.Look look, Told then) {}

  private interface Told {
    void tell() throws IOException;
  }

  private void each(IntPredicate which, TypedNodes.Look look, Told then) {
    passes.add(new Pass(which, look, then));
  }

  /** One walk for all looks. */
  private void walk() throws IOException {
    int[] wanted = new int[snapshot.types().size()];
    for (int t = 0; t < wanted.length; t++) {
      for (int p = 0; p < passes.size(); p++) {
        wanted[t] |= passes.get(p).which().test(t) ? 1 << p : 0;
      }
    }
    NodeCursor cursor = snapshot.cursor();
    new TypedNodes(snapshot, type -> wanted[type] != 0)
        .each(
            0,
            snapshot.objectCount(),
            node -> {
              int mask = wanted[cursor.type(node)];
              for (int p = 0; mask != 0; p++, mask >>>= 1) {
                if ((mask & 1) != 0) {
                  passes.get(p).look().at(node);
                }
              }
            });
    for (Pass pass : passes) {
      pass.then().tell();
    }
  }

  private TypeInfo info(int type) {
    return snapshot.types().get(type);
  }

  private void collections() {
    SavingsPlaces empty = new SavingsPlaces(snapshot);
    SavingsPlaces single = new SavingsPlaces(snapshot);
    each(
        type -> info(type).is(Trait.COLLECTION) && !info(type).array(),
        node -> {
          ObjectReader.Entries entries = snapshot.objects().entries(node, 2);
          if (entries == null) {
            return;
          }
          long size = entries.size() >= 0 ? entries.size() : entries.entries().size();
          if (size == 0) {
            empty.add(node, snapshot.retainedBytes(node));
          } else if (size == 1 && entries.entries().size() == 1) {
            long content = 0;
            ObjectReader.Entry one = entries.entries().get(0);
            for (int part : new int[] {one.key(), one.value()}) {
              content += part >= 0 && dominates(node, part) ? snapshot.retainedBytes(part) : 0;
            }
            single.add(node, Math.max(0, snapshot.retainedBytes(node) - content));
          }
        },
        () -> {
          add(
              empty.tell(
                  "empty collections",
                  "%,d collections are empty, and take %s.",
                  "Make them with their first element, or use a shared empty one.",
                  limit,
                  List.of()));
          add(
              single.tell(
                  "collections with one element",
                  "%,d collections hold a single element, and take %s besides it.",
                  "Where one element is the rule, a field does, or a collection made for one.",
                  limit,
                  List.of()));
        });
  }

  private boolean dominates(int holder, int node) {
    int at = node;
    for (int i = 0; i < 8 && at >= 0; i++) {
      at = snapshot.dominator(at);
      if (at == holder) {
        return true;
      }
    }
    return false;
  }

  private void boxes() {
    ObjectReader objects = snapshot.objects();
    EqualContents.Fingerprint print = new EqualContents.Fingerprint();
    Prints prints = new Prints();
    each(
        type -> info(type).is(Trait.BOXED) && !info(type).array(),
        node -> {
          String value = objects.text(node, 40) == null ? null : value(node);
          if (value != null) {
            print.clear();
            print.add(value);
            prints.add(node, print, snapshot.retainedBytes(node));
          }
        },
        () -> {
          EqualObjects equal = EqualObjects.of(snapshot, List.of(prints));
          add(
              equal
                  .places()
                  .tell(
                      "equal numbers in boxes",
                      "%,d numbers stand as objects though an equal one is there: %s.",
                      "Use the library's shared boxes (valueOf), or arrays and collections of plain"
                          + " numbers.",
                      limit,
                      equal.commonest(this::value)));
        });
  }

  private String value(int node) throws IOException {
    return snapshot.typeName(node) + " " + snapshot.objects().text(node, 40);
  }

  /**
   * Objects with a single field that one other object has as its own: what they hold could stand in
   * their place.
   */
  private void wrappers() {
    // by type: 1 with one field, 2 with more or fewer
    byte[] fields = new byte[snapshot.types().size()];
    SavingsPlaces places = new SavingsPlaces(snapshot);
    ObjectReader objects = snapshot.objects();
    each(
        type ->
            !info(type).array()
                && !info(type).is(Trait.TEXT)
                && !info(type).is(Trait.BOXED)
                && !info(type).is(Trait.COLLECTION),
        node -> {
          int type = snapshot.type(node);
          if (fields[type] == 0) {
            fields[type] = (byte) (isWrapper(node) ? 1 : 2);
          }
          int above = fields[type] == 1 ? snapshot.dominator(node) : -1;
          Via via =
              above < 0 || info(snapshot.type(above)).array() ? null : objects.viaTo(above, node);
          if (via != null && via.kind() == Via.Kind.FIELD) {
            places.add(node, snapshot.shallowBytes(node));
          }
        },
        () -> {
          add(
              places.tell(
                  "wrappers with one holder",
                  "%,d objects have a single field and a single holder, and take %s themselves.",
                  "Keep what they hold in the holder's own field.",
                  limit,
                  List.of()));
        });
  }

  private boolean isWrapper(int node) throws IOException {
    List<FieldValue> fields = snapshot.objects().fields(node, 2);
    return fields.size() == 1
        && fields.get(0).via().kind() == Via.Kind.FIELD
        && !snapshot.classNodes().contains(node);
  }

  private void closed() {
    boolean[] says = new boolean[snapshot.types().size()];
    boolean[] looked = new boolean[says.length];
    SavingsPlaces places = new SavingsPlaces(snapshot);
    Listeners listeners = new Listeners(snapshot);
    each(
        type -> mine.isMine(info(type)) && !info(type).array(),
        node -> {
          int type = snapshot.type(node);
          if (!looked[type]) {
            looked[type] = true;
            for (FieldValue field : snapshot.objects().fields(node, SHORTEST_ARRAY)) {
              String name = field.via().name().toLowerCase(Locale.ROOT);
              says[type] |= Closed.NAMES.stream().anyMatch(name::contains);
            }
          }
          if (says[type] && Closed.is(snapshot, node) && !belowClosed(node, says)) {
            places.add(node, snapshot.retainedBytes(node));
            listeners.of(node);
          }
        },
        () -> {
          add(
              listeners
                  .places()
                  .tell(
                      "listeners that outlive their subject",
                      "%,d listeners are still registered though what they belong to is closed, with %s.",
                      "Take the listener out where its owner is closed.",
                      limit,
                      List.of()));
          add(
              places.tell(
                  "closed but held",
                  "%,d objects say that they are closed or disposed of and are held all the same, with %s.",
                  "Let whoever holds them let go when they are closed; `lipsanon why` says who that is.",
                  limit,
                  List.of()));
        });
  }

  private boolean belowClosed(int node, boolean[] says) throws IOException {
    int at = snapshot.dominator(node);
    for (int i = 0; i < 32 && at >= 0; i++) {
      if (says[snapshot.type(at)] && Closed.is(snapshot, at)) {
        return true;
      }
      at = snapshot.dominator(at);
    }
    return false;
  }

  /** Copies of a class that several loaders have brought along. */
  private void loadedTwice() throws IOException {
    Map<String, Integer> known = new HashMap<>();
    SavingsPlaces places = new SavingsPlaces(snapshot);
    for (TypeInfo type : snapshot.types()) {
      int node = type.classNode();
      if (node < 0 || snapshot.depth(node) == 0 || type.array()) {
        continue;
      }
      // what was made on the fly has a name of its own for each
      Integer first = type.name().contains("$$") ? null : known.putIfAbsent(type.name(), node);
      if (first != null) {
        places.add(node, snapshot.retainedBytes(node));
      }
    }
    add(
        places.tell(
            "classes loaded again",
            "%,d classes were loaded again by another loader, and take %s.",
            "Let one loader bring along what all use; `lipsanon survey` says who holds loaders that"
                + " should be gone.",
            limit,
            List.of()));
  }

  /** Elements of a page that are in it no more, with all that they keep. */
  private void detached() throws IOException {
    IntList all = snapshot.objects().detached();
    Set<Integer> nodes = new HashSet<>();
    for (int i = 0; i < all.size(); i++) {
      nodes.add(all.get(i));
    }
    SavingsPlaces places = new SavingsPlaces(snapshot);
    for (int node : nodes) {
      boolean below = false;
      int above = snapshot.dominator(node);
      for (int i = 0; i < HIGHEST && above >= 0; i++) {
        below |= nodes.contains(above);
        above = snapshot.dominator(above);
      }
      if (!below && snapshot.depth(node) > 0) {
        places.add(node, snapshot.retainedBytes(node));
      }
    }
    add(
        places.tell(
            "elements in no page",
            "%,d elements are in no page any more and are held all the same, with %s.",
            "Let go of what refers to them when they are taken out of the page.",
            limit,
            List.of()));
  }

  private void finalizing() {
    long bytes = snapshot.totals().finalizerBytes();
    if (bytes > 0) {
      kinds.add(
          new SavingsAnswer.Kind(
              "waiting for finalizers",
              bytes,
              0,
              Labels.bytes(bytes) + " wait for their finalizers.",
              "Close such objects where they are used; a finalizer that blocks keeps all of them.",
              List.of(),
              0,
              List.of()));
    }
  }
}
