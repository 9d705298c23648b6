package lipsanon.change;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import lipsanon.holder.Finding;
import lipsanon.holder.Holding;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;
import lipsanon.label.Families;
import lipsanon.label.Threads;
import lipsanon.label.TypeFilter;

/** Tells of what piles up whether it is only a part of what another finding is about. */
final class RelatedFindings {
  /** The rank of the runtime's types: see {@link #rank}. */
  private static final int NOT_OWN = 2;

  /** What is in a table takes so many times what the table's entries take, at least. */
  private static final int LISTED = 8;

  /** So many things of the runtime's may come with one of what a finding is about. */
  private static final int MOST_EACH = 8;

  private static final String CLASS = "class ";
  private static final String FINALIZER = "java.lang.ref.Finalizer";
  private static final String MORE = "…";

  /** Why something is no finding of its own. */
  static final String SAME_HOLDER = "grows together with a finding that has the same holder";

  private final List<Finding> findings;
  private final Snapshot last;
  private final TypeFilter mine;

  /** By family of types, once asked for. */
  private final Map<String, Integer> ranks = new HashMap<>();

  /**
   * Nothing is looked at yet.
   *
   * @param findings those so far; others may be added
   * @param last the last snapshot, for its types
   */
  RelatedFindings(List<Finding> findings, Snapshot last, TypeFilter mine) {
    this.findings = findings;
    this.last = last;
    this.mine = mine;
  }

  /** Why something that piles up is no finding of its own; null if it is. */
  String why(Finding finding) {
    List<String> holders = findings.stream().flatMap(known -> places(known).stream()).toList();
    if (!holders.isEmpty() && holders.containsAll(places(finding))) {
      return SAME_HOLDER;
    }
    boolean part =
        finding.holders().size() > 1
            && rank(finding.what()) == NOT_OWN
            && places(finding).stream().anyMatch(holders::contains);
    if (part || findings.stream().anyMatch(known -> isAlongside(known, finding))) {
      return "grows together with a finding that has one of its holders";
    }
    boolean comes =
        findings.stream()
            .anyMatch(
                known ->
                    comesWith(known, finding)
                        || comesWithOpen(known, finding)
                        || comesWithElements(known, finding)
                        || isFinalizerOf(known, finding)
                        || isClassOf(known, finding));
    if (comes) {
      return "comes with each of what a finding is about, and nothing else has it";
    }
    if (findings.stream().anyMatch(known -> isListed(known, finding))) {
      return "only lists what a finding is about";
    }
    return null;
  }

  /** Of what piles up together in one place, what is somebody's own says most. */
  void plainer(Finding other) {
    for (int i = 0; i < findings.size(); i++) {
      Finding known = findings.get(i);
      int rank = rank(known.what());
      boolean together =
          places(known).stream().anyMatch(places(other)::contains)
              && (Math.round(known.countPerAction()) == Math.round(other.countPerAction())
                  || rank == NOT_OWN && isSoManyForEach(other, known));
      boolean nearer = rank == NOT_OWN && grown(known) == grown(other) && isAbove(other, known);
      // that threads must end is not to be lost
      boolean ends = known.reasons().contains(PileReport.ROOTS);
      if (together && !ends && (rank(other.what()) < rank || nearer)) {
        findings.set(i, other);
      }
    }
  }

  /** Removes what is kept of each thread where a finding says which threads do not end. */
  List<GrowthAnswer.SetAside> ofThreads() {
    List<Finding> parts =
        findings.stream()
            .filter(part -> findings.stream().anyMatch(known -> isOfThreads(known, part)))
            .toList();
    findings.removeAll(parts);
    String why = "comes with each of the threads that a finding is about";
    return parts.stream()
        .map(part -> new GrowthAnswer.SetAside(part.what(), part.heldBy(), part.bytes(), why))
        .toList();
  }

  private boolean isOfThreads(Finding known, Finding part) {
    boolean rooted =
        !part.heldBy().startsWith(Threads.RUNNING)
            && part.holders().size() == 1
            && part.holders().get(0).id().isEmpty()
            && !part.reasons().contains(PileReport.OWN_HOLDER);
    boolean untold =
        part.holders().isEmpty() && rank(part.what()) > 0 && isSoManyForEach(known, part);
    return (rooted && known.heldBy().startsWith(Threads.RUNNING)
            || untold && known.heldBy().startsWith(Threads.ANY_RUNNING))
        && known.reasons().contains(PileReport.ROOTS)
        && grown(known) <= grown(part);
  }

  /**
   * Whether a library has as many more in the same place, and in another one besides; or whether
   * the same things are told that several places hold, by what another part of these has of them.
   */
  private boolean isAlongside(Finding known, Finding finding) {
    boolean same = known.holders().size() > 1 && finding.what().equals(known.what());
    return finding.holders().size() > 1
        && (rank(finding.what()) > 0 || same)
        && grown(known) == grown(finding)
        && places(finding).containsAll(namedPlaces(known));
  }

  /** Its places, but for threads and others that are only told of. */
  private static List<String> namedPlaces(Finding finding) {
    List<String> named =
        finding.holders().stream()
            .filter(holder -> !holder.id().isEmpty())
            .map(Finding.Holder::place)
            .toList();
    return named.isEmpty() ? places(finding) : named;
  }

  /**
   * Whether as many more of the runtime's, or so many for each, have no holder that could be told.
   */
  private boolean comesWith(Finding known, Finding finding) {
    boolean untold =
        finding.holders().stream().allMatch(holder -> holder.id().isEmpty())
            && (finding.holders().isEmpty() || finding.reasons().contains(PileReport.NOTHING_OWN));
    return untold
        && (rank(finding.what()) == NOT_OWN || finding.what().startsWith(CLASS))
        && !known.holders().isEmpty()
        && isSoManyForEach(known, finding)
        && grown(finding) / grown(known) <= MOST_EACH
        && grownBytes(finding) < grownBytes(known);
  }

  /**
   * Whether something of a user's own leads to things that are held by others as well, such as open
   * connections, and so many of a library's or the runtime's come with each of them.
   */
  private boolean comesWithOpen(Finding known, Finding finding) {
    return places(known).contains(Holding.OTHERS)
        && rank(finding.what()) > 0
        && isSoManyForEach(known, finding)
        && grownBytes(finding) < grownBytes(known);
  }

  private static boolean isSoManyForEach(Finding known, Finding finding) {
    return grown(known) > 0 && grown(finding) >= grown(known) && grown(finding) % grown(known) == 0;
  }

  /**
   * Whether a page's elements pile up and so many of something with each of them, which has no
   * other holder: what draws an element and what a library notes of it go when it is taken out.
   */
  private boolean comesWithElements(Finding known, Finding finding) {
    boolean untold =
        finding.holders().isEmpty()
            || finding.reasons().contains(PileReport.NOTHING_OWN)
                && finding.holders().stream()
                    .allMatch(holder -> holder.id().isEmpty() || isElement(holder));
    return untold
        && !known.holders().isEmpty()
        && known.holders().stream().allMatch(this::isElement)
        && isSoManyForEach(known, finding)
        && grownBytes(finding) < grownBytes(known);
  }

  private boolean isElement(Finding.Holder holder) {
    return last.types().stream()
        .anyMatch(type -> type.is(TypeInfo.Trait.ELEMENT) && type.name().equals(holder.type()));
  }

  /** Whether it is what the runtime notes of each object that has a finalizer. */
  private static boolean isFinalizerOf(Finding known, Finding finding) {
    return finding.what().equals(FINALIZER)
        && grown(known) == grown(finding)
        && grownBytes(finding) < grownBytes(known);
  }

  /** Whether it is the classes of what another finding is about, each object with its own. */
  private static boolean isClassOf(Finding known, Finding finding) {
    return finding.what().equals(CLASS + known.what()) && grown(known) == grown(finding);
  }

  /** Whether the runtime has a table of what another finding is about, as it has of threads. */
  private static boolean isListed(Finding known, Finding table) {
    return known.what().equals(table.what())
        && known.counts().equals(table.counts())
        && table.reasons().contains(PileReport.NOTHING_OWN)
        && grownBytes(table) * LISTED < grownBytes(known);
  }

  /** By how many bytes it has grown in all. */
  static long grownBytes(Finding finding) {
    return finding.bytes().get(finding.bytes().size() - 1) - finding.bytes().get(0);
  }

  private static long grown(Finding finding) {
    return finding.counts().get(finding.counts().size() - 1) - finding.counts().get(0);
  }

  /** Whether the way to what a finding is about leads through what another one is about. */
  private static boolean isAbove(Finding above, Finding finding) {
    return !above.what().equals(finding.what())
        && finding.steps().stream().anyMatch(step -> Families.of(step.type()).equals(above.what()));
  }

  /** Whether something is of the user's own types. */
  boolean isOwn(String what) {
    return rank(what) == 0;
  }

  /** The user's own types first, then those of libraries. */
  private int rank(String what) {
    // classes as such, and types that were made one for each, go by what their names begin with
    String name = what.startsWith(CLASS) ? what.substring(CLASS.length()) : what;
    if (!what.endsWith(MORE)) {
      Map<String, Integer> all = ranks();
      return Math.min(all.getOrDefault(what, NOT_OWN), all.getOrDefault(name, NOT_OWN));
    }
    String begin = name.substring(0, name.length() - MORE.length());
    int rank = NOT_OWN;
    for (TypeInfo type : last.types()) {
      rank = type.name().startsWith(begin) ? Math.min(rank, rank(type)) : rank;
    }
    return rank;
  }

  private Map<String, Integer> ranks() {
    if (ranks.isEmpty()) {
      for (TypeInfo type : last.types()) {
        ranks.merge(Families.of(type.name()), rank(type), Math::min);
      }
    }
    return ranks;
  }

  private int rank(TypeInfo type) {
    return mine.isMine(type) ? 0 : type.library() ? NOT_OWN : 1;
  }

  private static List<String> places(Finding finding) {
    return finding.holders().isEmpty()
        ? List.of(finding.heldBy())
        : finding.holders().stream().map(Finding.Holder::place).toList();
  }
}
