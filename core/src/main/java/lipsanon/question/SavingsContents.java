package lipsanon.question;

import java.io.IOException;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.function.Consumer;
import lipsanon.index.NodeCursor;
import lipsanon.index.ObjectReader;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo.Trait;

/**
 * What texts and arrays of numbers could save: those that are equal, begin alike, or hold one value
 * only. Contents are read once, by several threads where there are many.
 */
final class SavingsContents {
  private static final int LONGEST_TEXT = 1 << 20;
  private static final int SHORTEST_ARRAY = 64;
  private static final int LEAST_NULLS = 8;
  private static final int SHOWN_TEXT = 60;

  private final Snapshot snapshot;
  private final int limit;

  /** By type. */
  private final boolean[] isText;

  SavingsContents(Snapshot snapshot, int limit) {
    this.snapshot = snapshot;
    this.limit = limit;
    this.isText = new boolean[snapshot.types().size()];
    for (int t = 0; t < isText.length; t++) {
      isText[t] = snapshot.types().get(t).is(Trait.TEXT);
    }
  }

  void tell(Consumer<SavingsAnswer.Kind> sink) throws IOException {
    texts(sink);
    arrays(sink);
  }

  private <T> List<T> parts(SideBySide.Range<T> range) throws IOException {
    return SideBySide.ranges(snapshot, snapshot.objectCount(), TypedNodes.BLOCK, range);
  }

  /** Whether an object is a part of a text, and goes with that one. */
  private boolean belowText(NodeCursor cursor, int node) {
    int above = cursor.dominator(node);
    return above >= 0 && isText[cursor.type(above)];
  }

  /** What a pass over a part of the texts finds. */
  private static final class Texts implements ObjectReader.Bytes {
    private final Prints prints = new Prints();
    private final CommonBeginnings.Found beginnings = new CommonBeginnings.Found();
    private final EqualContents.Fingerprint print = new EqualContents.Fingerprint();
    private final EqualContents.Fingerprint beginning = new EqualContents.Fingerprint();
    private final byte[] head = new byte[CommonBeginnings.LENGTH * Character.BYTES];
    private long length;

    void clear() {
      print.clear();
      length = 0;
    }

    @Override
    public void bytes(byte[] some, int from, int to) {
      print.add(some, from, to);
      if (length < head.length) {
        int count = (int) Math.min(to - from, head.length - length);
        System.arraycopy(some, from, head, (int) length, count);
      }
      length += to - from;
    }

    /** A text of which the bytes are known. */
    void bytes(int node, int each, long retainedBytes) {
      print.add(each);
      prints.add(node, print, retainedBytes);
      if (length / each >= CommonBeginnings.LEAST) {
        beginning.clear();
        for (int i = 0; i < CommonBeginnings.LENGTH; i++) {
          beginning.add(
              each == 1
                  ? (char) (head[i] & 0xff)
                  : (char) (head[2 * i] & 0xff | (head[2 * i + 1] & 0xff) << Byte.SIZE));
        }
        beginnings.add(prints.size() - 1, node, beginning, each);
      }
    }

    void text(int node, String text, ObjectReader objects, long retainedBytes) throws IOException {
      print.add(text);
      prints.add(node, print, retainedBytes);
      if (text.length() >= CommonBeginnings.LEAST) {
        beginning.clear();
        for (int i = 0; i < CommonBeginnings.LENGTH; i++) {
          beginning.add(text.charAt(i));
        }
        beginnings.add(prints.size() - 1, node, beginning, objects.characterBytes(node, text));
      }
    }
  }

  private Texts readTexts(TypedNodes nodes, ObjectReader objects, int from, int to)
      throws IOException {
    NodeCursor cursor = snapshot.cursor();
    Texts found = new Texts();
    nodes.each(
        from,
        to,
        node -> {
          if (belowText(cursor, node)) {
            return;
          }
          found.clear();
          int each = objects.textBytes(node, found);
          if (each > 0) {
            found.bytes(node, each, cursor.retainedBytes(node));
            return;
          }
          String text = objects.contents().text(node, LONGEST_TEXT);
          if (text != null && text.length() < LONGEST_TEXT) {
            found.text(node, text, objects, cursor.retainedBytes(node));
          }
        });
    return found;
  }

  private void texts(Consumer<SavingsAnswer.Kind> sink) throws IOException {
    TypedNodes nodes = new TypedNodes(snapshot, type -> isText[type]);
    List<Texts> parts = parts((objects, from, to) -> readTexts(nodes, objects, from, to));
    EqualObjects equal =
        EqualObjects.of(snapshot, parts.stream().map(part -> part.prints).toList());
    CommonBeginnings beginnings = new CommonBeginnings(snapshot);
    int first = 0;
    for (Texts part : parts) {
      beginnings.add(part.beginnings, equal::fresh, first);
      first += part.prints.size();
    }
    ObjectReader objects = snapshot.objects();
    sink.accept(
        equal
            .places()
            .tell(
                "equal texts",
                "%,d texts are there once more than needed: %s.",
                "Keep one of each: intern them, or look them up in a table of the known ones, where"
                    + " they are made.",
                limit,
                equal.commonest(
                    node -> ObjectReader.quoted(objects.text(node, SHOWN_TEXT + 1), SHOWN_TEXT))));
    sink.accept(
        beginnings
            .share()
            .tell(
                "texts that begin alike",
                "%,d different texts begin with the same "
                    + CommonBeginnings.LENGTH
                    + " characters as many others: %s.",
                "Keep the beginning once, and the rest beside it: a folder and a name, a kind and"
                    + " a number.",
                limit,
                beginnings.commonest()));
  }

  /** A fingerprint of an array's elements, and whether they are all the same. */
  private static final class Elements implements ObjectReader.Bytes {
    private final EqualContents.Fingerprint print = new EqualContents.Fingerprint();
    private final byte[] start = new byte[8];
    private final boolean[] repeats = new boolean[9];
    private long length;

    void clear() {
      print.clear();
      length = 0;
      Arrays.fill(repeats, true);
    }

    @Override
    public void bytes(byte[] some, int from, int to) {
      print.add(some, from, to);
      for (int i = from; i < to; i++) {
        long at = length + (i - from);
        if (at < 8) {
          start[(int) at] = some[i];
        }
      }
      for (int width = 1; width <= 8; width <<= 1) {
        boolean same = repeats[width];
        for (int i = from; same && i < to; i++) {
          long at = length + (i - from);
          same = at < width || some[i] == start[(int) at & width - 1];
        }
        repeats[width] = same;
      }
      length += to - from;
    }
  }

  private record Arrayed(Prints prints, SavingsPlaces same, SavingsPlaces spare) {}

  private Arrayed readArrays(TypedNodes nodes, ObjectReader objects, int from, int to)
      throws IOException {
    NodeCursor cursor = snapshot.cursor();
    Prints prints = new Prints();
    SavingsPlaces same = new SavingsPlaces(snapshot, objects);
    SavingsPlaces spare = new SavingsPlaces(snapshot, objects);
    int reference = Math.max(4, snapshot.facts().layout().referenceBytes());
    Elements elements = new Elements();
    nodes.each(
        from,
        to,
        node -> {
          if (belowText(cursor, node)) {
            return;
          }
          elements.clear();
          int each = objects.elements(node, elements);
          if (each == 0) {
            long nulls = objects.nulls(node);
            if (nulls >= LEAST_NULLS && 2 * nulls > objects.length(node)) {
              spare.add(node, nulls * reference);
            }
            return;
          }
          if (elements.length >= SHORTEST_ARRAY && elements.repeats[Math.min(8, each)]) {
            same.add(node, snapshot.shallowBytes(node));
          }
          elements.print.add(cursor.type(node));
          prints.add(node, elements.print, cursor.retainedBytes(node));
        });
    return new Arrayed(prints, same, spare);
  }

  private void arrays(Consumer<SavingsAnswer.Kind> sink) throws IOException {
    TypedNodes nodes = new TypedNodes(snapshot, type -> snapshot.types().get(type).array());
    List<Arrayed> parts = parts((objects, from, to) -> readArrays(nodes, objects, from, to));
    EqualObjects equal = EqualObjects.of(snapshot, parts.stream().map(Arrayed::prints).toList());
    sink.accept(
        equal
            .places()
            .tell(
                "equal arrays",
                "%,d arrays of numbers or bytes are there once more than needed: %s.",
                "Share one of each; empty ones can be one constant.",
                limit,
                equal.commonest(
                    node ->
                        String.format(
                            Locale.ROOT,
                            "%s of %,d elements",
                            snapshot.typeName(node),
                            snapshot.objects().length(node)))));
    sink.accept(
        SavingsPlaces.of(parts.stream().map(Arrayed::same).toList())
            .tell(
                "arrays of one value",
                "%,d arrays hold nothing but one value over and over: %s.",
                "Make them when they are needed, or smaller.",
                limit,
                List.of()));
    sink.accept(
        SavingsPlaces.of(parts.stream().map(Arrayed::spare).toList())
            .tell(
                "arrays mostly empty",
                "%,d arrays of references are more than half empty: %s of them hold nothing.",
                "Give collections the size that they will have, or trim them when they are filled.",
                limit,
                List.of()));
  }
}
