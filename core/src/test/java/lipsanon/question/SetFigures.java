package lipsanon.question;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.HashSet;
import java.util.List;
import java.util.Random;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Predicate;
import lipsanon.index.Reference;
import lipsanon.index.Snapshot;
import lipsanon.label.TypeFilter;
import lipsanon.select.Cut;
import lipsanon.select.Removal;
import lipsanon.select.Selector;
import lipsanon.select.SetSize;

/** Selections, and all that is answered about sets, against plain definitions. */
final class SetFigures {
  private final Snapshot s;
  private final ExportOracle oracle;
  private final Random random;
  private final String what;

  SetFigures(Snapshot s, ExportOracle oracle, long seed) {
    this.s = s;
    this.oracle = oracle;
    this.random = new Random(seed);
    this.what = "seed " + seed;
  }

  void check() throws Exception {
    List<String> types = new ArrayList<>(new TreeSet<>(all(row -> true, ExportOracle.Row::type)));
    String a = types.get(random.nextInt(types.size()));
    String b = types.get(random.nextInt(types.size()));
    Set<String> ofA = ids(row -> row.type().equals(a));
    Set<String> ofB = ids(row -> row.type().equals(b));
    columns();
    sets(a, b, ofA, ofB);
    neighbours(a, ofA);
    removals(ofA);
    merged(ofA);
  }

  private Set<String> all(
      Predicate<ExportOracle.Row> wanted,
      java.util.function.Function<ExportOracle.Row, String> value) {
    Set<String> found = new HashSet<>();
    oracle.objects.values().stream().filter(wanted).map(value).forEach(found::add);
    return found;
  }

  private Set<String> ids(Predicate<ExportOracle.Row> wanted) {
    return all(wanted, ExportOracle.Row::id);
  }

  private Set<String> ids(BitSet set) {
    Set<String> ids = new HashSet<>();
    set.stream().forEach(n -> ids.add(s.id(n)));
    return ids;
  }

  private BitSet set(Set<String> ids) {
    BitSet set = new BitSet();
    ids.forEach(id -> set.set(s.nodeOf(id)));
    return set;
  }

  private Set<String> select(String text) throws Exception {
    return ids(new Selector(s, Selector.Options.DEFAULTS).select(text));
  }

  private void same(String text, Set<String> expected) throws Exception {
    assertThat(select(text)).as("%s: %s", what, text).isEqualTo(expected);
  }

  private static String quoted(String type) {
    return "type \"" + type + "\"";
  }

  private void columns() throws Exception {
    long size = 8L * random.nextInt(60);
    same("shallow > " + size, ids(row -> row.shallow() > size));
    same("shallow <= " + size, ids(row -> row.shallow() <= size));
    same("shallow = " + size, ids(row -> row.shallow() == size));
    same("shallow != " + size, ids(row -> row.shallow() != size));
    same("retained >= " + (size + 1), ids(row -> row.retained() != null && row.retained() > size));
    same(
        "retained < " + size,
        ids(row -> row.retained() == null ? size > 0 : row.retained() < size));
    long depth = random.nextInt(5);
    same("depth = " + depth, ids(row -> (row.depth() == null ? 0 : row.depth()) == depth));
    for (String strength : List.of("strong", "soft", "finalizer", "unretained")) {
      same(strength, ids(row -> row.strength().equals(strength)));
    }
    same("all", ids(row -> true));
    same("root", ids(row -> !s.rootsOf(s.nodeOf(row.id())).isEmpty()));
    same(
        "not (strong and depth > 1) or shallow > " + size,
        ids(row -> !(row.strength().equals("strong") && row.depth() > 1) || row.shallow() > size));
  }

  private void sets(String a, String b, Set<String> ofA, Set<String> ofB) throws Exception {
    same(quoted(a), ofA);
    same(
        quoted(a) + " or " + quoted(b),
        ids(row -> ofA.contains(row.id()) || ofB.contains(row.id())));
    same("not " + quoted(a), ids(row -> !ofA.contains(row.id())));
    same("kept by " + quoted(a), ids(row -> isBelow(row, ofA)));
    Set<String> lost = oracle.lost(ofA);
    lost.removeAll(ofA);
    same("freed with " + quoted(a), lost);
  }

  private boolean isBelow(ExportOracle.Row row, Set<String> set) {
    for (String above = row.dominator(); above != null; ) {
      if (set.contains(above)) {
        return true;
      }
      above = oracle.objects.get(above).dominator();
    }
    return false;
  }

  /** References as the reader tells them, but for those to classes that every object has. */
  private void neighbours(String a, Set<String> ofA) throws Exception {
    Set<String> referring = new HashSet<>();
    Set<String> referred = new HashSet<>();
    for (String id : oracle.objects.keySet()) {
      s.objects()
          .references(
              s.nodeOf(id),
              reference -> {
                boolean asClass = reference.via().name().equals("class");
                String to = s.id(reference.target());
                if (!asClass && ofA.contains(to)) {
                  referring.add(id);
                }
                if (!asClass && ofA.contains(id)) {
                  referred.add(to);
                }
              });
    }
    same("refers to " + quoted(a), referring);
    same("referred to by " + quoted(a), referred);
  }

  private void removals(Set<String> ofA) throws Exception {
    List<String> every = List.copyOf(oracle.objects.keySet());
    Set<String> some = new HashSet<>();
    for (int i = random.nextInt(6); i >= 0; i--) {
      some.add(every.get(random.nextInt(every.size())));
    }
    for (Set<String> set : List.of(some, ofA)) {
      Removal.Freed freed = Removal.of(s, set(set));
      Set<String> lost = oracle.lost(set);
      assertThat(ids(freed.objects())).as("%s without %s", what, set).isEqualTo(lost);
      assertThat(freed.count()).isEqualTo(lost.size());
      assertThat(SetSize.bytes(s, set(set))).as(what).isEqualTo(freed.bytes());
      assertThat(freed.bytes()).isEqualTo(oracle.bytes(lost));
      cut(set);
    }
  }

  /** All references of some objects are cleared, but for those to their classes. */
  private void cut(Set<String> from) throws Exception {
    Cut cut = Cut.of(s, set(from).stream().boxed().toList(), null);
    Set<String> cleared = new HashSet<>();
    for (int i = 0; i < cut.size(); i++) {
      cleared.add(s.id(cut.from(i)) + " " + s.id(cut.to(i)));
    }
    Removal.Freed freed = Removal.of(s, cut);
    assertThat(ids(freed.objects()))
        .as("%s, cut from %s", what, from)
        .isEqualTo(oracle.lostWithout(cleared));
    for (String id : from) {
      for (String to : oracle.keeps(id)) {
        Cut one = new Cut();
        one.add(s.nodeOf(id), s.nodeOf(to));
        boolean asClass = s.types().get(s.type(s.nodeOf(id))).classNode() == s.nodeOf(to);
        if (!asClass) {
          assertThat(ids(Removal.of(s, one).objects()))
              .as("%s, cut %s to %s", what, id, to)
              .isEqualTo(oracle.lostWithout(Set.of(id + " " + to)));
        }
      }
    }
  }

  private void merged(Set<String> set) throws Exception {
    RefsQuestion.Options in =
        new RefsQuestion.Options("x", true, true, false, 1, false, 1000, TypeFilter.ALL);
    RefsAnswer.Level level = RefsQuestion.ask(s, set(set), in).levels().get(0);
    Set<String> held = new HashSet<>();
    Set<String> holders = new HashSet<>();
    for (String id : oracle.objects.keySet()) {
      boolean counts = !oracle.strength.get(id).equals("unretained");
      s.objects()
          .references(
              s.nodeOf(id),
              reference -> {
                String to = s.id(reference.target());
                boolean keeps =
                    reference.kind() == Reference.Kind.STRONG
                        || reference.kind() == Reference.Kind.SOFT
                            && oracle.strength.get(to).equals("soft");
                boolean listed = s.inbound(reference.target()).size() > 0 && refers(id, to);
                if (counts && keeps && listed && set.contains(to) && !id.equals(to)) {
                  held.add(to);
                  if (!set.contains(id)) {
                    holders.add(id);
                  }
                }
              });
    }
    set.stream().filter(oracle.roots::contains).filter(this::isRealRoot).forEach(held::add);
    assertThat(level.count()).isEqualTo(set.size());
    assertThat(level.reached()).as(what).isEqualTo(held.size());
    assertThat(level.others()).as(what).isEqualTo(holders.size());
    for (RefsAnswer.Row row : level.rows()) {
      assertThat(row.members() + row.notMembers()).isEqualTo(set.size());
      if (!row.within() && !row.membersSelection().isEmpty() && !row.type().isEmpty()) {
        assertThat(row.members()).isPositive();
      }
    }
    SetKeepersAnswer keepers = SetKeepersQuestion.ask(s, set(set), "x", false, 1000);
    long top =
        keepers.keepers().stream()
            .filter(row -> row.level() == 0)
            .mapToLong(SetKeepersAnswer.Row::frees)
            .sum();
    long retained =
        set.stream().filter(id -> !oracle.strength.get(id).equals("unretained")).count();
    assertThat(top).as(what).isEqualTo(retained);
    assertThat(keepers.retainedBytes()).isEqualTo(oracle.bytes(oracle.lost(set)));
    for (SetKeepersAnswer.Row row : keepers.keepers()) {
      if (row.objects() == 1) {
        Set<String> below = oracle.lost(Set.of(row.id()));
        below.retainAll(set);
        assertThat(row.frees()).as("%s, %s", what, row).isEqualTo(below.size());
      }
    }
  }

  private boolean isRealRoot(String id) {
    return s.rootsOf(s.nodeOf(id)).stream().anyMatch(root -> root.thread() < 0);
  }

  /** Whether the list of referring objects has it: references to classes are not in the lists. */
  private boolean refers(String from, String to) {
    var list = s.inbound(s.nodeOf(to));
    for (int i = 0; i < list.size(); i++) {
      if (s.id(list.get(i)).equals(from)) {
        return true;
      }
    }
    return false;
  }
}
