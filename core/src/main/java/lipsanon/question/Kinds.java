package lipsanon.question;

import lipsanon.index.TypeInfo;
import lipsanon.index.TypeInfo.Trait;
import lipsanon.label.Ownership;

/** What kind of thing a type's objects are, in words: what fills a heap at first sight. */
final class Kinds {
  private Kinds() {}

  static String of(TypeInfo info, Ownership ownership) {
    if (info.is(Trait.TEXT)) {
      return "text";
    } else if (info.is(Trait.BOXED)) {
      return "boxed numbers";
    } else if (info.is(Trait.COLLECTION)) {
      return "collections";
    } else if (info.is(Trait.CODE)) {
      return "code";
    } else if (info.array()) {
      return "arrays";
    }
    return switch (ownership.of(info)) {
      case OWN -> "own classes";
      case LIBRARY -> "libraries";
      case RUNTIME -> "the runtime";
    };
  }
}
