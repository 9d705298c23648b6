package lipsanon.holder;

import java.util.ArrayList;
import java.util.List;
import lipsanon.index.Snapshot;
import lipsanon.label.Step;

/**
 * Something that piles up.
 *
 * @param what the type that piles up
 * @param heldBy the field, variable or thread of the user's own that holds it
 * @param inside where in the holder's containers it is, outermost first; empty where there is
 *     nothing to say
 * @param container the type of the collection that it piles up in, or "" if it is chained
 * @param containerId identifier of that collection in the last snapshot, or ""
 * @param root how the root is called
 * @param countPerAction new objects an action, or 0 where actions are not known
 * @param bytesPerAction new bytes an action, or 0
 * @param counts how many there were in each snapshot
 * @param bytes what they retained in each snapshot
 * @param confidence 0 to 1
 * @param reasons why, in words
 * @param sentence the finding in one sentence
 * @param steps the path from the holder's anchor to one of them
 * @param holders the places that hold it together, each tested by its cut
 * @param freedShare the share of what piled up that goes when all holders let go, 0 to 1
 */
public record Finding(
    String what,
    String heldBy,
    List<String> inside,
    String container,
    String containerId,
    String root,
    double countPerAction,
    double bytesPerAction,
    List<Long> counts,
    List<Long> bytes,
    double confidence,
    List<String> reasons,
    String sentence,
    List<Step> steps,
    List<Holder> holders,
    double freedShare) {

  /**
   * A place that holds.
   *
   * @param place in words
   * @param id identifier of the object that has the reference, or "" for a root
   * @param type its type, or ""
   * @param via the reference whose cut was tested
   * @param freesCount how many of what piled up that cut alone frees
   * @param freesBytes what it frees in all
   */
  public record Holder(
      String place, String id, String type, String via, long freesCount, long freesBytes) {}

  /**
   * The places of a holding, as users get them.
   *
   * @param count objects in all, those that are held by their like included
   */
  public static List<Holder> holders(Snapshot snapshot, Holding holding, long count) {
    double scale = holding.asked() == 0 ? 1 : count / (double) holding.asked();
    List<Holder> holders = new ArrayList<>();
    for (Holding.Place place : holding.places()) {
      holders.add(
          new Holder(
              place.text(),
              place.node() < 0 ? "" : snapshot.id(place.node()),
              place.node() < 0 ? "" : snapshot.typeName(place.node()),
              place.via(),
              Math.round(place.freed() * scale),
              place.freedBytes()));
    }
    return holders;
  }
}
