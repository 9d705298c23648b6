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

  /** Stands for all places besides those that are named, where these are too many. */
  public static final String OTHERS = "others";

  /** So many places are named in a sentence. */
  private static final int MOST_TOLD = 3;

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
    return text(places);
  }

  /** Some places in words; what keeps all of them is told once. */
  public static String text(List<Place> places) {
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

  /** The places of somebody's that lead to all of a set, while too many others hold it as well. */
  static Holding amongOthers(OwnLists.Found own, long asked) {
    List<Place> all = new ArrayList<>(own.places());
    all.add(new Place(OTHERS, -1, -1, OTHERS, 0, 0));
    return new Holding(all, 0, 0, asked, List.of(), own.container(), own.whose(), false);
  }

  /** The same places, and the user's own that lead to what these hold. */
  Holding with(OwnLists.Found own) {
    List<Place> all = new ArrayList<>(places);
    all.addAll(own.places());
    return new Holding(
        all, freed, freedBytes, asked, inside, own.container(), Ownership.Whose.OWN, roots);
  }

  /** Whether more places hold than are named. */
  public boolean isAmongOthers() {
    return places.size() > 1 && places.get(places.size() - 1).text().equals(OTHERS);
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

  /** Who holds, in words; of many places the first, and how many more there are. */
  public String shortOwner() {
    List<String> texts = places.stream().map(Place::text).distinct().toList();
    return texts.size() <= MOST_TOLD
        ? owner()
        : String.join(" and ", texts.subList(0, MOST_TOLD - 1))
            + " and "
            + (texts.size() - MOST_TOLD + 1)
            + " more places";
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
