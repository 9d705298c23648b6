package lipsanon.index;

import java.util.Set;

/**
 * A type of a snapshot.
 *
 * @param name as the runtime's users write it
 * @param loader what tells types of the same name apart (a class loader in words), or ""
 * @param classNode the node of its class object, or -1
 * @param traits what is known of it besides
 */
public record TypeInfo(String name, String loader, int classNode, Set<Trait> traits) {
  /** What a reader knows of a type. Indexes store the ordinals: add new ones at the end. */
  public enum Trait {
    /** Its objects are arrays. */
    ARRAY,
    /** It belongs to the runtime or its standard library. */
    LIBRARY,
    /**
     * Its objects, and all below them, are of no interest to the program: the machinery through
     * which the runtime is observed (a capture leaves some behind), compiled code and the like.
     */
    OBSERVER,
    /** Its objects are only the way to what they hold: entries, links, tables of collections. */
    PASSAGE,
    /**
     * It says nothing of what an object is for: one plain object in another is no link of a chain.
     */
    PLAIN,
    /** Its objects are the runtime's own bookkeeping, though what they hold need not be. */
    MACHINERY,
    /** It belongs to a library that the program brings along: neither the runtime's nor its own. */
    FOREIGN,
    /** Its objects are texts. */
    TEXT,
    /** Its objects are single numbers or truth values that stand as objects. */
    BOXED,
    /** Its objects are collections or maps of the standard library, or parts of these. */
    COLLECTION,
    /** Its objects are code: classes, functions, what is compiled of them. */
    CODE,
    /** Its objects are references to methods together with the objects that these run on. */
    DELEGATE,
    /** Its objects are loaded pieces of a program, which the runtime keeps once they are there. */
    MODULE,
    /** Its objects are a page that a browser shows, or the document of one. */
    PAGE,
    /** Its objects are elements of a page. */
    ELEMENT,
    /** Variables of a scope: what they hold, each by itself, is no contents of it. */
    SCOPE
  }

  /** Keeps a copy of the traits. */
  public TypeInfo {
    traits = Set.copyOf(traits);
  }

  /** Whether its objects are arrays. */
  public boolean array() {
    return traits.contains(Trait.ARRAY);
  }

  /** Whether it belongs to the runtime or its standard library. */
  public boolean library() {
    return traits.contains(Trait.LIBRARY);
  }

  /** Whether its objects and all below them are of no interest. */
  public boolean observer() {
    return traits.contains(Trait.OBSERVER);
  }

  /** Whether its objects are only the way to what they hold. */
  public boolean passage() {
    return traits.contains(Trait.PASSAGE);
  }

  /** Whether it says nothing of what an object is for. */
  public boolean plain() {
    return traits.contains(Trait.PLAIN);
  }

  /** Whether it belongs to a library that the program brings along. */
  public boolean foreign() {
    return traits.contains(Trait.FOREIGN);
  }

  /** Whether its objects are the runtime's own bookkeeping. */
  public boolean machinery() {
    return traits.contains(Trait.MACHINERY);
  }

  /** Whether a trait is known of it. */
  public boolean is(Trait trait) {
    return traits.contains(trait);
  }
}
