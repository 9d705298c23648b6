package lipsanon.question;

import java.io.IOException;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.TreeMap;
import lipsanon.array.IntList;
import lipsanon.graph.Strength;
import lipsanon.holder.HolderSearch;
import lipsanon.holder.Holding;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;
import lipsanon.label.Families;
import lipsanon.label.Labels;

/**
 * Finds classes that a program makes while it runs, one for each script, formula or wrapped object,
 * where there are very many of a family: they stay until their loader goes. The runtime's own
 * families are left out, which have many members in any program.
 */
record MadeClasses(Snapshot snapshot, HolderSearch search, FindingList findings, double heap) {
  /** So many classes of a family are too many, whatever they take. */
  private static final int VERY_MANY = 1_000;

  /** So many are, where they take a good part of the heap. */
  private static final int MANY = 200;

  private static final double LARGE = 0.1;

  /** How sure it is that they are not meant to be there, at least and at most. */
  private static final double LEAST = 0.4;

  private static final double MOST = 0.75;

  void add() throws IOException {
    Map<String, IntList> families = new TreeMap<>();
    for (TypeInfo type : snapshot.types()) {
      int node = type.classNode();
      if (node < 0 || type.array() || type.library() || snapshot.depth(node) == 0) {
        continue;
      }
      String family = Families.of(type.name());
      // one of many that are the same but for a number, or what a code generator has put at the end
      if (!family.equals(type.name()) || Families.isNumbered(family)) {
        families.computeIfAbsent(Families.stem(family), name -> new IntList()).add(node);
      }
    }
    for (Map.Entry<String, IntList> family : families.entrySet()) {
      add(family.getKey(), family.getValue());
    }
  }

  private void add(String stem, IntList classes) throws IOException {
    long bytes = 0;
    int soft = 0;
    for (int i = 0; i < classes.size(); i++) {
      bytes += snapshot.retainedBytes(classes.get(i));
      soft += snapshot.strength(classes.get(i)) == Strength.SOFT ? 1 : 0;
    }
    boolean large = classes.size() >= MANY && bytes >= LARGE * heap;
    if (!large && classes.size() < VERY_MANY || soft * 2 > classes.size()) {
      return;
    }
    if (large && findings.explain(bytes)) {
      return;
    }
    Holding found = search.search(classes);
    Holding holding = found.places().isEmpty() ? Holding.unknown(found.owner()) : found;
    double share = bytes / heap;
    String sentence =
        String.format(
            Locale.ROOT,
            "%,d classes %s… retain %s (%s of the heap), held by %s: each was made while the program"
                + " ran.",
            classes.size(),
            stem,
            Labels.bytes(bytes),
            Math.round(share * 100) + " %",
            found.owner());
    findings.add(
        "class " + stem + "…",
        holding,
        found.container(),
        classes.size(),
        bytes,
        Math.min(MOST, LEAST + share),
        List.of("classes are seldom needed in such numbers"),
        sentence,
        findings.way(holding, classes));
  }
}
