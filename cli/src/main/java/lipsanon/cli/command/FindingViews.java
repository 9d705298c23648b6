package lipsanon.cli.command;

import java.util.List;
import lipsanon.analysis.Finding;
import lipsanon.cli.term.Format;
import lipsanon.cli.term.View;

/** Findings as people read them. */
final class FindingViews {
  private FindingViews() {}

  static void add(View view, List<Finding> findings, Format format) {
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
