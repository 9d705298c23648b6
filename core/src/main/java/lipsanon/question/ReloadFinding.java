package lipsanon.question;

import java.io.IOException;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import lipsanon.array.IntList;
import lipsanon.graph.Strength;
import lipsanon.holder.HolderSearch;
import lipsanon.holder.Holding;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;
import lipsanon.label.TypeFilter;

/** Finds code that was loaded several times over, with the loaders of earlier times still there. */
record ReloadFinding(
    Snapshot snapshot, TypeFilter mine, HolderSearch search, FindingList findings) {
  /** Classes of the user's that several loaders have, and who keeps these loaders. */
  void add() throws IOException {
    Map<String, List<TypeInfo>> copies = new TreeMap<>();
    for (TypeInfo type : snapshot.types()) {
      if (mine.isMine(type) && type.classNode() >= 0 && !type.array()) {
        copies.computeIfAbsent(type.name(), key -> new ArrayList<>()).add(type);
      }
    }
    List<TypeInfo> most = List.of();
    int several = 0;
    for (List<TypeInfo> same : copies.values()) {
      several += same.size() > 1 ? 1 : 0;
      most = same.size() > Math.max(2, most.size()) ? same : most;
    }
    if (most.isEmpty()) {
      return;
    }
    IntList loaders = new IntList();
    for (TypeInfo type : most) {
      int loader = type.loader().isEmpty() ? -1 : snapshot.nodeOf(type.loader());
      if (loader >= 0) {
        loaders.add(loader);
      }
    }
    if (areSoft(loaders)) {
      return;
    }
    Holding holding =
        loaders.size() < 2 ? Holding.unknown("class loaders") : search.search(loaders);
    IntList objects = holding.places().isEmpty() ? objects(most) : new IntList();
    if (objects.size() * 2 > loaders.size()) {
      // a loader stays for as long as an object of its classes
      holding = search.search(objects);
    }
    String loaderType = loaders.isEmpty() ? "" : snapshot.typeName(loaders.get(0));
    findings.addCopies(
        most.get(0).name(),
        holding,
        most.size(),
        "class loaders of earlier loads seem to be kept",
        String.format(
            Locale.ROOT,
            "%s is loaded %,d times by different class loaders%s, held by %s; loaded more than once"
                + " in all: %,d of your classes.",
            most.get(0).name(),
            most.size(),
            loaderType.isEmpty() ? "" : " (" + loaderType + ")",
            holding.owner(),
            several),
        loaders);
  }

  /** Whether soft references alone keep nearly all loaders: they go before memory runs out. */
  private boolean areSoft(IntList loaders) {
    int soft = 0;
    for (int i = 0; i < loaders.size(); i++) {
      soft += snapshot.strength(loaders.get(i)) == Strength.SOFT ? 1 : 0;
    }
    return soft > 0 && soft * 10 >= loaders.size() * 9;
  }

  /** The objects of some types. */
  private IntList objects(List<TypeInfo> types) throws IOException {
    Set<TypeInfo> wanted = new HashSet<>(types);
    IntList objects = new IntList();
    new TypedNodes(snapshot, t -> wanted.contains(snapshot.types().get(t)))
        .each(0, snapshot.objectCount(), objects::add);
    return objects;
  }
}
