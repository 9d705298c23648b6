package lipsanon.format.hprof;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.HashMap;
import java.util.HashSet;
import java.util.Map;
import java.util.Set;
import java.util.regex.Pattern;
import lipsanon.array.Addresses;
import lipsanon.array.LongArray;
import lipsanon.io.ByteSource;
import lipsanon.io.InputException;
import lipsanon.io.Window;

/**
 * Tells the classes of the program itself from those of libraries that it brings along, by where
 * they were loaded from: the dump holds the code source of each protection domain. Own are classes
 * from folders, from the archive that holds the main class, and others that share its package.
 */
final class CodeSources {
  private static final String LAUNCHER = "sun.launcher.LauncherHelper";

  /** Characters; what is longer is no place. */
  static final int LONGEST_LOCATION = 4096;

  /** Archives that hold a program with its libraries keep its own classes in such folders. */
  private static final String[] OWN_FOLDERS = {"BOOT-INF/classes", "WEB-INF/classes"};

  private static final Pattern ARCHIVE = Pattern.compile("\\.(jar|war|ear|zip)\\b");
  private static final String[] FOREIGN_FOLDERS = {"BOOT-INF/lib", "WEB-INF/lib"};

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

  /** Where a class stands: loaded from, and package. */
  private record Place(String location, String stem) {}

  /** By type: whether it is of a library that the program brings along. */
  boolean[] foreign() throws IOException {
    boolean[] foreign = new boolean[types.count()];
    Place[] places = new Place[types.count()];
    Place main = null;
    int mainType = mainType();
    for (int t = 0; t < places.length; t++) {
      ClassInfo c = types.classOf(t);
      if (c != null && !JdkNames.isLibrary(c.name()) && !c.name().endsWith("[]")) {
        places[t] = new Place(location(c), stem(c.name()));
        main = t == mainType ? places[t] : main;
      }
    }
    Set<String> ownStems = new HashSet<>();
    for (Place place : places) {
      if (place != null && isFolder(place.location)) {
        ownStems.add(place.stem);
      }
    }
    if (main != null) {
      ownStems.add(main.stem);
    }
    Set<String> foreignStems = new HashSet<>();
    boolean anyOwn = false;
    for (int t = 0; t < places.length; t++) {
      if (places[t] != null && isForeign(places[t], main, ownStems)) {
        foreign[t] = true;
        foreignStems.add(places[t].stem);
      } else {
        anyOwn |= places[t] != null && isPlaced(places[t].location);
      }
    }
    if (anyOwn) {
      inherit(foreign, places, foreignStems, ownStems);
    } else {
      // nothing is known of what is the program's own: no difference is made
      foreign = new boolean[types.count()];
    }
    for (int t = 0; t < foreign.length; t++) {
      // what starts programs of a language holds the main class, and is not what one wrote
      foreign[t] |= JdkNames.isOfLanguage(types.name(t));
    }
    return foreign;
  }

  private static boolean isForeign(Place place, Place main, Set<String> ownStems) {
    if (isFolder(place.location) || !ARCHIVE.matcher(place.location).find()) {
      // what was compiled while the program ran is in no archive
      return false;
    }
    boolean bundled = false;
    for (String folder : FOREIGN_FOLDERS) {
      bundled |= place.location.contains(folder);
    }
    boolean sameArchive = main != null && place.location.equals(main.location);
    // an archive may hold its libraries unpacked beside the program
    boolean mainsOwn = sameArchive && (main.stem.isEmpty() || main.stem.equals(place.stem));
    return bundled || !mainsOwn && !ownStems.contains(place.stem);
  }

  private static boolean isPlaced(String location) {
    return isFolder(location) || ARCHIVE.matcher(location).find();
  }

  /** Classes that were made at run time, without a place of their own, and arrays. */
  private void inherit(
      boolean[] foreign, Place[] places, Set<String> foreignStems, Set<String> ownStems) {
    for (int t = 0; t < foreign.length; t++) {
      String name = types.name(t);
      int made = name.indexOf("$$");
      Integer host = made > 0 ? byName.get(name.substring(0, made)) : null;
      boolean nowhere = places[t] != null && !isPlaced(places[t].location);
      if (host != null) {
        foreign[t] = foreign[host];
      } else if (nowhere && foreignStems.contains(places[t].stem)) {
        foreign[t] = !ownStems.contains(places[t].stem);
      }
    }
    for (int t = 0; t < foreign.length; t++) {
      String name = types.name(t);
      int brackets = name.indexOf("[]");
      Integer element = brackets > 0 ? byName.get(name.substring(0, brackets)) : null;
      if (element != null) {
        foreign[t] = foreign[element];
      }
    }
  }

  private static boolean isFolder(String location) {
    for (String folder : OWN_FOLDERS) {
      if (location.contains(folder)) {
        return true;
      }
    }
    boolean archive = location.endsWith(".jar!/") || location.endsWith(".war!/");
    return location.endsWith("/") && !archive;
  }

  /** The first two parts of a package: whose it is. */
  private static String stem(String name) {
    int end = name.lastIndexOf('.');
    if (end < 0) {
      return "";
    }
    int first = name.indexOf('.');
    int second = name.indexOf('.', first + 1);
    return name.substring(0, second < 0 ? end : second);
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
