package lipsanon.change;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import lipsanon.holder.Finding;
import lipsanon.label.Labels;

/**
 * Code that a .NET program makes or loads ever more while it runs: assemblies and their types pile
 * up in tables of the runtime, which say nothing of the cause, and stay. One finding tells it.
 */
final class LoadedAssemblies {
  private static final String REFLECTION = "System.Reflection.Runtime";
  private static final String ASSEMBLY = REFLECTION + "Assembly";

  /** What has an assembly that was loaded from memory. */
  private static final String CONTEXT = "System.Runtime.Loader.IndividualAssemblyLoadContext";

  private static final String TYPE = "System.RuntimeType";

  private static final List<String> COME_ALONG = List.of(REFLECTION, TYPE, CONTEXT);

  /** What holds them, in words. */
  static final String HOLDER = "the runtime, which unloads none";

  private static final String WHY = "comes with each of the assemblies that a finding is about";

  private LoadedAssemblies() {}

  /**
   * Rewrites the finding of assemblies, and takes out those of what comes with them.
   *
   * @param findings some may be replaced or removed
   * @return what was removed
   */
  static List<GrowthAnswer.SetAside> told(List<Finding> findings) {
    Finding assemblies = first(findings, ASSEMBLY);
    assemblies = assemblies == null ? first(findings, CONTEXT) : assemblies;
    if (assemblies == null) {
      return List.of();
    }
    List<GrowthAnswer.SetAside> aside = new ArrayList<>();
    for (Finding part : List.copyOf(findings)) {
      boolean ofCode = COME_ALONG.stream().anyMatch(part.what()::startsWith);
      if (part != assemblies && isOfRuntime(part) && ofCode) {
        findings.remove(part);
        aside.add(new GrowthAnswer.SetAside(part.what(), part.heldBy(), part.bytes(), WHY));
      }
    }
    findings.set(findings.indexOf(assemblies), rewritten(assemblies));
    return aside;
  }

  private static Finding first(List<Finding> findings, String type) {
    for (Finding finding : findings) {
      if (isOfRuntime(finding) && finding.what().startsWith(type)) {
        return finding;
      }
    }
    return null;
  }

  private static boolean isOfRuntime(Finding finding) {
    return finding.reasons().contains(PileReport.NOTHING_OWN)
        || finding.reasons().contains(PileReport.ROOTS);
  }

  private static Finding rewritten(Finding f) {
    List<Long> counts = f.counts();
    long exactly = Math.round(f.countPerAction());
    String each =
        f.reasons().stream().anyMatch(reason -> reason.startsWith("exactly "))
            ? ", exactly " + exactly + " with every action"
            : "";
    String sentence =
        String.format(
            Locale.ROOT,
            "%,d more assemblies are loaded (%s%s), held by %s: make or load their code once, and"
                + " keep it.",
            counts.get(counts.size() - 1) - counts.get(0),
            Labels.bytes(RelatedFindings.grownBytes(f)),
            each,
            HOLDER);
    List<String> reasons = new ArrayList<>(f.reasons());
    reasons.add(
        "serialisers, scripts and compiled expressions make assemblies, each anew where nobody"
            + " keeps them");
    return new Finding(
        f.what(),
        HOLDER,
        List.of(),
        "",
        "",
        f.root(),
        f.countPerAction(),
        f.bytesPerAction(),
        counts,
        f.bytes(),
        f.confidence(),
        reasons,
        sentence,
        List.of(),
        List.of(),
        0);
  }
}
