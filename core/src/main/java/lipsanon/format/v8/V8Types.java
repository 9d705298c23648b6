package lipsanon.format.v8;

import java.util.EnumSet;
import java.util.Set;
import java.util.regex.Pattern;
import lipsanon.index.TypeInfo;
import lipsanon.index.TypeInfo.Trait;

/** Names of types: what V8 says of a node, made into what a developer calls it. */
final class V8Types {
  private static final Pattern NUMBER = Pattern.compile(" @\\d+$");
  private static final Pattern KIND = Pattern.compile("(?<=.) (\\[[^\\]]*\\]|\\([^)]*\\))$");
  private static final int LONGEST = 1000;
  private static final String ORIGIN = " / ";
  private static final String PREFIX = "v8:";
  private static final String BLINK = "blink::";
  private static final String CPPGC = "cppgc::";

  private V8Types() {}

  /** The type of a node from its V8 type and its name. */
  static String name(String v8Type, String whole) {
    boolean browser = whole.startsWith(BLINK) || whole.startsWith(CPPGC);
    String name = cut(browser ? CppNames.shortened(whole) : whole);
    return switch (v8Type) {
      case V8Format.OBJECT -> ofObject(name);
      case V8Format.NATIVE -> ofNative(name);
      default -> PREFIX + v8Type;
    };
  }

  /** A name without end would cost as much again at every place where it is shown. */
  private static String cut(String name) {
    return name.length() <= LONGEST
        ? name
        : name.substring(0, LONGEST)
            + "… ("
            + name.length()
            + " characters, "
            + Integer.toHexString(name.hashCode())
            + ")";
  }

  /** What all scripts of a page share. */
  private static final String REALM = "system / NativeContext / ";

  private static final Set<String> PAGES =
      Set.of("Window", "Document", "HTMLDocument", "XMLDocument");

  private static final Set<String> COLLECTIONS = Set.of("Map", "Set", "WeakMap", "WeakSet");

  private static String ofObject(String name) {
    String plain = NUMBER.matcher(name).replaceFirst("");
    if (!plain.startsWith("Node / ") && !plain.startsWith("system / ")) {
      int origin = plain.indexOf(ORIGIN);
      plain = origin > 0 ? plain.substring(0, origin) : plain;
      plain = KIND.matcher(plain).replaceFirst("");
    }
    return plain.isEmpty() ? "(no name)" : plain;
  }

  private static String ofNative(String name) {
    if (name.startsWith("<")) {
      int end = name.indexOf(' ');
      return end < 0 ? name : name.substring(0, end) + ">";
    }
    return name.isEmpty() ? "(no name)" : name;
  }

  /** Whether a node's name says more than its type. */
  static boolean isNamed(String v8Type) {
    return v8Type.equals(V8Format.OBJECT) || v8Type.equals(V8Format.NATIVE);
  }

  /** A type; whose it is is not known yet where its objects have constructors. */
  static TypeInfo info(String v8Type, String type) {
    boolean object = v8Type.equals(V8Format.OBJECT);
    boolean array = v8Type.equals(V8Format.ARRAY);
    Set<Trait> traits = EnumSet.noneOf(Trait.class);
    if (array || object && type.equals("Array")) {
      traits.add(Trait.ARRAY);
    }
    if (!object || type.startsWith("system / ") || type.startsWith("Node / ")) {
      traits.add(Trait.LIBRARY);
    }
    if (v8Type.equals(V8Format.CODE) || v8Type.equals(V8Format.SHAPE)) {
      // compiled code and the shapes of objects come and go as V8 sees fit
      traits.add(Trait.OBSERVER);
    }
    if (array || type.startsWith("system / ") || v8Type.equals(V8Format.HIDDEN)) {
      traits.add(Trait.PASSAGE);
    }
    if (!object || type.equals("Object") || type.equals("Array") || type.startsWith("system / ")) {
      traits.add(Trait.PLAIN);
    }
    if (object && V8Scopes.isContext(type)) {
      traits.add(Trait.SCOPE);
    }
    addKind(v8Type, type, traits);
    // a program may have a class Document of its own: a browser's is no object of JavaScript alone
    boolean page = v8Type.equals(V8Format.NATIVE) && PAGES.contains(type.replaceFirst(" / .*", ""));
    if (page || type.startsWith(REALM)) {
      traits.add(Trait.PAGE);
    }
    boolean browser = type.startsWith(BLINK) || type.startsWith(CPPGC);
    if (v8Type.equals(V8Format.NATIVE) && !browser && isElement(type)) {
      traits.add(Trait.ELEMENT);
    }
    if (browser && !type.endsWith("EventListener")) {
      traits.add(Trait.MACHINERY);
    }
    return new TypeInfo(type, "", -1, traits);
  }

  /** A browser calls elements of HTML as they are written, others by their class. */
  private static boolean isElement(String type) {
    return type.startsWith("<") || type.endsWith("Element");
  }

  /** What sort of thing its objects are. */
  private static void addKind(String v8Type, String type, Set<Trait> traits) {
    switch (v8Type) {
      case "string", "concatenated string", "sliced string" -> traits.add(Trait.TEXT);
      case "number", "bigint" -> traits.add(Trait.BOXED);
      case V8Format.CODE, V8Format.SHAPE, "closure", "regexp" -> traits.add(Trait.CODE);
      case V8Format.OBJECT -> {
        if (COLLECTIONS.contains(type)) {
          traits.add(Trait.COLLECTION);
        }
      }
      default -> {
        // nothing is known of it
      }
    }
  }
}
