package lipsanon.question;

import java.util.List;
import lipsanon.label.ObjectRow;
import lipsanon.label.SnapshotSummary;
import lipsanon.label.Step;

/**
 * Why something is still alive.
 *
 * @param snapshot of which snapshot
 * @param subject the identifier or type asked for
 * @param objects how many objects that is
 * @param looked how many of them were followed: all, or an even sample of very many
 * @param unretained how many of these nothing keeps
 * @param paths nearest paths, the most frequent first
 * @param otherPaths how many further different paths there are
 * @param dominators for a single object, what dominates it, the nearest first: removing any one of
 *     these would free it
 * @param ways for a set, all paths merged into one tree; null for a single object
 * @param weakly for what nothing keeps: how it is referred to all the same, in words
 * @param closed the field by which a single object says that it is done with, or ""
 */
public record WhyAnswer(
    SnapshotSummary snapshot,
    String subject,
    long objects,
    long looked,
    long unretained,
    List<Path> paths,
    int otherPaths,
    List<ObjectRow> dominators,
    WaysAnswer ways,
    List<String> weakly,
    String closed) {

  /**
   * A path.
   *
   * @param count of how many of the objects looked at this is the nearest path
   * @param share of those, 0 to 1
   * @param strength by what kind of edges it holds
   * @param steps the root first; of an example where it stands for many
   * @param origin the stack that allocated the last step's object, the innermost function first;
   *     empty if the snapshot does not tell
   */
  public record Path(
      long count, double share, String strength, List<Step> steps, List<String> origin) {}
}
