package lipsanon.format.nettrace;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import lipsanon.io.CorruptInputException;

/**
 * The names of a {@link NameBook} as events of the stream. Whoever does not know them passes them
 * by, as any reader does with events of a provider that it does not know.
 *
 * <pre>
 * Strings (1) --> first u4, n u4, n × (length u2, UTF-8)
 * Types (2)   --> n u4, n × (type u8, name s, flags u1 (1 nested, 2 a library's), k u4, k × Slot,
 *                 m u4, m × kind s)
 * Statics (3) --> n u4, n × (slot u8, class s)
 * Generics (4) -> n u4, n × (type u8, variable s)
 * Slot        --> owner s, path s, declared s         (s: the number of a string u4)
 * </pre>
 */
final class NameEvents {
  static final int STRINGS = 1;
  static final int TYPES = 2;
  static final int STATICS = 3;
  static final int GENERICS = 4;
  static final int NESTED = 1;
  static final int FOREIGN = 2;

  private static final int SLOT_BYTES = 12;
  private static final int TYPE_BYTES = 21;

  private final List<String> strings = new ArrayList<>();
  private final NameBook book = new NameBook();

  /** What the events said; empty if there were none. */
  NameBook book() {
    return book;
  }

  /** Hears an event of this provider. */
  void event(NettraceStream.Event event) throws IOException {
    Payload in = event.payload;
    switch (event.id) {
      case STRINGS -> strings(in);
      case TYPES -> {
        int count = in.entries(TYPE_BYTES);
        for (int i = 0; i < count; i++) {
          type(in);
        }
      }
      case STATICS -> numbered(in, book.statics);
      case GENERICS -> numbered(in, book.generics);
      default -> {}
    }
  }

  private void numbered(Payload in, Map<Long, String> into) throws IOException {
    int count = in.entries(Long.BYTES + Integer.BYTES);
    for (int i = 0; i < count; i++) {
      into.put(in.i8(), string(in));
    }
  }

  private void strings(Payload in) throws IOException {
    if (in.i4() != strings.size()) {
      throw new CorruptInputException("names", in.position(), "names that miss some", "all");
    }
    int count = in.entries(Short.BYTES);
    for (int i = 0; i < count; i++) {
      int length = in.u2();
      in.need(length);
      strings.add(new String(in.bytes(), in.at(), length, StandardCharsets.UTF_8));
      in.skip(length);
    }
  }

  private void type(Payload in) throws IOException {
    long id = in.i8();
    String name = string(in);
    int flags = in.u1();
    int count = in.entries(SLOT_BYTES);
    List<NameBook.Slot> slots = new ArrayList<>();
    for (int i = 0; i < count; i++) {
      slots.add(new NameBook.Slot(string(in), string(in), string(in)));
    }
    int more = in.entries(Integer.BYTES);
    Set<String> kinds = new LinkedHashSet<>();
    for (int i = 0; i < more; i++) {
      kinds.add(string(in));
    }
    book.types.put(
        id, new NameBook.Type(name, (flags & NESTED) != 0, (flags & FOREIGN) != 0, slots, kinds));
  }

  private String string(Payload in) throws IOException {
    int number = in.i4();
    if (number < 0 || number >= strings.size()) {
      throw new CorruptInputException(
          "names", in.position(), "name " + number, "one of " + strings.size());
    }
    return strings.get(number);
  }
}
