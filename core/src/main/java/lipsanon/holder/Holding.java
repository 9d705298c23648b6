package lipsanon.holder;

import java.util.ArrayList;
import java.util.List;
import lipsanon.label.Ownership;

/**
 * What holds a set of objects.
 *
 * @param places the places that hold it together, each tested by its cut; empty where no few places
 *     do
 * @param freed how many of the set's objects go when all places let go
 * @param freedBytes what these retain
 * @param asked how many objects the set has
 * @param inside where in the places' containers the objects are, outermost first, in words
 * @param container the object that refers to the set's objects directly or through its own parts,
 *     or -1
 * @param whose whose the places are; of several the user's own decides, then a library
 * @param roots whether the objects are roots themselves: nothing but their own end frees them
 */
public record Holding(
    List<Place> places,
    long freed,
    long freedBytes,
    long asked,
    List<String> inside,
    int container,
    Ownership.Whose whose,
    boolean roots) {

  /** Between a place and what keeps the object that has it. */
  static final String KEPT_BY = ", kept by ";

  /**
   * A place that holds.
   *
   * @param text in words, as users read it
   * @param node the object that has the reference, or -1 for a root
   * @param target the object that it refers to
   * @param via the reference whose cut was tested, in words
   * @param freed objects of the set that its cut alone frees
   * @param freedBytes what that cut frees in all
   * @param emptied the object whose contents were cut off, or -1 if a reference was
   */
  public record Place(
      String text, int node, int target, String via, long freed, long freedBytes, int emptied) {
    Place(String text, int node, int target, String via, long freed, long freedBytes) {
      this(text, node, target, via, freed, freedBytes, -1);
    }
  }

  /** Whether a place in words is a certain one, with or without what keeps that. */
  static boolean isOf(String place, String bare) {
    return place.equals(bare) || place.startsWith(bare + KEPT_BY);
  }

  /** All places in words; what keeps all of them is told once. */
  public String text() {
    List<String> texts = new ArrayList<>(places.stream().map(Place::text).distinct().toList());
    String last = texts.isEmpty() ? "" : texts.get(texts.size() - 1);
    String keeper = last.contains(KEPT_BY) ? last.substring(last.indexOf(KEPT_BY)) : "";
    if (texts.stream().allMatch(text -> text.endsWith(keeper))) {
      texts.replaceAll(text -> text.substring(0, text.length() - keeper.length()));
      return String.join(" and ", texts) + keeper;
    }
    return String.join(" and ", texts);
  }

  /**
   * The same places, with what another container of theirs holds as well.
   *
   * @param other with places of the same names
   */
  public Holding and(Holding other) {
    List<Place> both = new ArrayList<>();
    for (int i = 0; i < places.size(); i++) {
      Place a = places.get(i);
      Place b = other.places.get(i);
      both.add(
          new Place(
              a.text, a.node, a.target, a.via, a.freed + b.freed, a.freedBytes + b.freedBytes));
    }
    return new Holding(
        both,
        freed + other.freed,
        freedBytes + other.freedBytes,
        asked + other.asked,
        inside,
        container,
        whose,
        roots);
  }

  /** The same places, which free nothing by themselves: each object has to be taken out of them. */
  Holding untilTakenOut() {
    List<Place> listing = new ArrayList<>();
    places.forEach(p -> listing.add(new Place(p.text, p.node, p.target, p.via, 0, 0)));
    return new Holding(listing, 0, 0, asked, inside, container, whose, roots);
  }

  /** Who holds, in words, also where that is nobody alone. */
  public String owner() {
    return places.isEmpty() ? "no single owner" : text();
  }

  /** The share of the objects that all places together free, 0 to 1. */
  public double freedShare() {
    return asked == 0 ? 0 : freed / (double) asked;
  }

  /** Something that no search can name. */
  public static Holding unknown(String text) {
    return new Holding(
        List.of(new Place(text, -1, -1, text, 0, 0)),
        0,
        0,
        0,
        List.of(),
        -1,
        Ownership.Whose.RUNTIME,
        false);
  }
}
