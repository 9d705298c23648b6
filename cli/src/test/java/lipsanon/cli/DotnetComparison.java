package lipsanon.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import lipsanon.graph.Strength;
import lipsanon.index.RootInfo;
import lipsanon.index.Snapshot;

/** A dump of a .NET process against the event stream that was taken just before. */
final class DotnetComparison {
  private DotnetComparison() {}

  /**
   * Compares them, object by object.
   *
   * @param least how many objects there are at least
   */
  static void compare(Snapshot stream, Snapshot dump, int least) throws Exception {
    List<String> faults = new ArrayList<>();
    int moved = 0;
    for (int n = 0; n < stream.objectCount(); n++) {
      int other = dump.nodeOf(stream.rawId(n));
      if (other < 0) {
        moved++;
        continue;
      }
      String name = stream.typeName(n);
      if (stream.shallowBytes(n) != dump.shallowBytes(other)
          || !dump.typeName(other).equals(name) && !dump.typeName(other).endsWith("." + name)) {
        faults.add(stream.id(n) + " " + name + " is " + dump.typeName(other));
      }
      if (!targets(stream, n).equals(targets(dump, other))) {
        faults.add(name + " refers to " + targets(stream, n) + " and " + targets(dump, other));
      }
      if (stream.strength(n) != dump.strength(other)
          && stream.strength(n) != Strength.FINALIZER
          && !onStack(stream, n)) {
        faults.add(name + " " + stream.strength(n) + " " + dump.strength(other));
      }
    }
    // the session itself makes some objects between the two
    assertThat(moved).isLessThan(60);
    assertThat(faults.size()).as(faults.toString()).isLessThanOrEqualTo(moved + 4);
    assertThat(dump.objectCount()).isGreaterThan(least);
    // static variables by name; the stream leaves those of generic instantiations out
    Set<String> told = variables(stream);
    Set<String> found = variables(dump);
    assertThat(told).hasSizeGreaterThan(100);
    told.removeAll(found);
    assertThat(told).as("static variables that the dump lacks").isEmpty();
    for (String kind : List.of("handle", "pinning handle")) {
      assertThat(roots(dump, kind)).as(kind).isCloseTo(roots(stream, kind), within());
    }
    assertThat(dump.totals().finalizerBytes()).isEqualTo(stream.totals().finalizerBytes());
  }

  private static org.assertj.core.data.Offset<Long> within() {
    return org.assertj.core.data.Offset.offset(2L);
  }

  private static boolean onStack(Snapshot snapshot, int node) {
    return snapshot.roots().stream()
        .anyMatch(r -> r.node() == node && r.kind().startsWith("local"));
  }

  private static long roots(Snapshot snapshot, String kind) {
    return snapshot.roots().stream().filter(root -> root.kind().equals(kind)).count();
  }

  private static Set<String> variables(Snapshot snapshot) {
    Set<String> names = new HashSet<>();
    for (RootInfo root : snapshot.roots()) {
      if (root.kind().equals(RootInfo.STATIC)) {
        // without the class, which a stream has only where it was looked up
        names.add(root.detail().substring(root.detail().lastIndexOf('.') + 1));
      }
    }
    return names;
  }

  /** By address how often, whatever the kind: the dump knows more static variables. */
  static Map<Long, Integer> targets(Snapshot snapshot, int node) throws Exception {
    Map<Long, Integer> targets = new TreeMap<>();
    snapshot
        .objects()
        .references(
            node, reference -> targets.merge(snapshot.rawId(reference.target()), 1, Integer::sum));
    return targets;
  }
}
