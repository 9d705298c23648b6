package lipsanon.format.hprof;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.HashMap;
import java.util.Map;
import lipsanon.array.Addresses;
import lipsanon.array.LongArray;
import lipsanon.io.ByteSource;
import lipsanon.io.InputException;
import lipsanon.io.Window;

/**
 * Reads where classes were loaded from: the dump holds the code source of each protection domain.
 * {@link CodePlaces} tells by it the program itself from libraries that it brings along.
 */
final class CodeSources {
  private static final String LAUNCHER = "sun.launcher.LauncherHelper";

  /** Characters; what is longer is no place. */
  static final int LONGEST_LOCATION = 4096;

  private final ByteSource source;
  private final Window window;
  private final int idSize;
  private final HprofTypes types;
  private final Addresses addresses;
  private final LongArray positions;
  private final Map<Long, String> locations = new HashMap<>();
  private final Map<String, Integer> byName = new HashMap<>();

  /** With positions as the reader keeps them: one more than the record's. */
  CodeSources(
      ByteSource source, int idSize, HprofTypes types, Addresses addresses, LongArray positions) {
    this.source = source;
    this.window = new Window(source, 1 << 12);
    this.idSize = idSize;
    this.types = types;
    this.addresses = addresses;
    this.positions = positions;
    for (int t = 0; t < types.count(); t++) {
      byName.putIfAbsent(types.name(t), t);
    }
  }

  /** By type: whether it is of a library that the program brings along. */
  boolean[] foreign() throws IOException {
    String[] names = new String[types.count()];
    String[] places = new String[types.count()];
    for (int t = 0; t < names.length; t++) {
      ClassInfo c = types.classOf(t);
      names[t] = types.name(t);
      if (c != null && !JdkNames.isLibrary(c.name()) && !c.name().endsWith("[]")) {
        places[t] = location(c);
      }
    }
    boolean[] foreign = new CodePlaces(names, places, mainType()).foreign();
    for (int t = 0; t < foreign.length; t++) {
      // what starts programs of a language holds the main class, and is not what one wrote
      foreign[t] |= JdkNames.isOfLanguage(names[t]);
    }
    return foreign;
  }

  /**
   * The class that the program was started with, as the JVM's launcher remembers it; -1 unknown.
   */
  private int mainType() {
    Integer launcher = byName.get(LAUNCHER);
    ClassInfo c = launcher == null ? null : types.classOf(launcher);
    if (c != null) {
      for (ClassInfo.Static field : c.statics()) {
        if (field.name().equals("appClass") && field.value() != 0) {
          return types.ofClass(field.value());
        }
      }
    }
    return -1;
  }

  private String location(ClassInfo c) throws IOException {
    if (c.domain() == 0) {
      return "";
    }
    String known = locations.get(c.domain());
    if (known == null) {
      known = "";
      try {
        long url = follow(follow(c.domain(), "codesource"), "location");
        // the path of an archive inside another stands in the field "file" alone
        known = text(follow(url, "file"));
        known = known.isEmpty() ? text(follow(url, "path")) : known;
      } catch (InputException e) {
        // what cannot be read says nothing
        known = "";
      }
      locations.put(c.domain(), known);
    }
    return known;
  }

  /** Goes to the record of an instance; its type, or -1. */
  private int instance(long id) throws IOException {
    int node = id == 0 ? -1 : addresses.rank(id);
    if (node < 0) {
      return -1;
    }
    window.seek(positions.get(node) - 1, source.size());
    window.need(9 + 2 * idSize);
    if (window.u1() != HprofFormat.INSTANCE) {
      return -1;
    }
    window.skip(idSize + 4);
    int type = types.ofClass(id());
    int length = window.i4();
    window.need(length);
    return type;
  }

  private long id() {
    return idSize == 8 ? window.i8() : window.u4();
  }

  private long follow(long id, String field) throws IOException {
    int type = instance(id);
    int offset = 0;
    for (ClassInfo c : type < 0 ? java.util.List.<ClassInfo>of() : types.chain(type)) {
      for (ClassInfo.Field declared : c.fields()) {
        if (declared.type() == HprofFormat.OBJECT && declared.name().equals(field)) {
          return idSize == 8 ? window.peekLong(offset) : window.peekUnsignedInt(offset);
        }
        offset += HprofFormat.bytes(declared.type(), idSize);
      }
    }
    return 0;
  }

  private String text(long string) throws IOException {
    long value = follow(string, "value");
    int node = value == 0 ? -1 : addresses.rank(value);
    if (node < 0) {
      return "";
    }
    window.seek(positions.get(node) - 1, source.size());
    window.need(9 + idSize);
    if (window.u1() != HprofFormat.PRIMITIVE_ARRAY) {
      return "";
    }
    window.skip(idSize + 4);
    int count = window.i4();
    boolean bytes = window.u1() == HprofFormat.BYTE;
    int size = Math.min(count, LONGEST_LOCATION) * (bytes ? 1 : 2);
    window.need(size);
    byte[] raw = new byte[size];
    window.copy(raw, 0, size);
    return new String(raw, bytes ? StandardCharsets.ISO_8859_1 : StandardCharsets.UTF_16BE);
  }
}
