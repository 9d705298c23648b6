package lipsanon.label;

/**
 * An object on a path.
 *
 * @param id its identifier
 * @param type its type
 * @param label what tells it from others of its type, or ""
 * @param via how the step before refers to it; for the first one the kind of root
 * @param retainedBytes its retained size
 * @param repeats how many objects of the path this step stands for: more than 1 where a chain of
 *     like objects was folded
 */
public record Step(
    String id, String type, String label, String via, long retainedBytes, long repeats) {}
