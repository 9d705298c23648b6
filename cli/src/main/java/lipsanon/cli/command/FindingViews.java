package lipsanon.cli.command;

import java.util.List;
import lipsanon.cli.term.Format;
import lipsanon.cli.term.View;
import lipsanon.holder.Finding;

/** Findings as people read them. */
public final class FindingViews {
  private FindingViews() {}

  public static void add(View view, List<Finding> findings, Format format) {
    int number = 0;
    for (Finding finding : findings) {
      view.heading(++number + ". " + finding.sentence());
      if (finding.holders().size() == 1 && finding.holders().get(0).freesBytes() > 0) {
        view.line("Clearing it frees " + format.size(finding.holders().get(0).freesBytes()) + ".");
      }
      view.line(
          "Sure to "
              + Math.round(finding.confidence() * 100)
              + " %: "
              + String.join("; ", finding.reasons())
              + ".");
    }
  }
}
