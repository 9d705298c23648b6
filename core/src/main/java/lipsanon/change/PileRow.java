package lipsanon.change;

import lipsanon.label.Ownership;

/**
 * A place of one snapshot at which objects pile up, told in a way in which other snapshots of the
 * same program tell the same place.
 *
 * @param what the type that piles up, in the words of findings
 * @param heldBy the field, variable or thread that holds it
 * @param inside where in the holder's containers it is, outermost first, joined by " in "
 * @param count objects, those held by their like included
 * @param bytes what they retain
 * @param freesBytes what is freed in all when the holder lets go
 * @param example identifier of one of them
 * @param whose whose the holder is
 */
public record PileRow(
    String what,
    String heldBy,
    String inside,
    long count,
    long bytes,
    long freesBytes,
    String example,
    Ownership.Whose whose) {}
