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
      view.line(
          "   confidence "
              + Format.percent(finding.confidence())
              + ": "
              + String.join("; ", finding.reasons()));
    }
  }
}
