package lipsanon.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import lipsanon.index.RootInfo;
import lipsanon.index.Snapshot;
import lipsanon.index.Via;
import lipsanon.io.Progress;
import lipsanon.snapshot.Snapshots;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * Names that a capture finds for an event stream, against those of a memory dump of the same
 * process, whose runtime says exactly where each field stands.
 */
class DotnetNamesTest {
  @TempDir Path folder;

  private Snapshot open(Path file) throws Exception {
    return Snapshots.open(file, new Snapshots.Options(null, folder, true, 1L << 30), Progress.NONE);
  }

  private Path capture(DotnetYard yard, String name, String... more) throws Exception {
    Path file = folder.resolve(name);
    List<String> words = new ArrayList<>(List.of("capture", yard.pid(), "-o", file.toString()));
    words.addAll(List.of(more));
    assertThat(Tool.run(folder, words.toArray(new String[0])).code()).isZero();
    return file;
  }

  @Test
  void eachNameIsThatOfTheDump() throws Exception {
    try (DotnetYard yard = new DotnetYard(DotnetYard.oddities())) {
      // what was moved by the collections of the first has its last place in the second
      capture(yard, "first.nettrace");
      capture(yard, "second.nettrace");
      Path told = capture(yard, "told.nettrace");
      Path exact = capture(yard, "exact.core", "--dump");
      try (Snapshot names = open(told);
          Snapshot dump = open(exact)) {
        compareFields(names, dump);
        compareVariables(names, dump);
      }
    }
  }

  private static void compareFields(Snapshot names, Snapshot dump) throws Exception {
    int same = 0;
    int unnamed = 0;
    for (int node = 0; node < names.objectCount(); node++) {
      int other = at(names, node, dump);
      if (other < 0) {
        continue;
      }
      List<int[]> targets = new ArrayList<>();
      List<Via> vias = new ArrayList<>();
      names
          .objects()
          .references(
              node,
              reference -> {
                targets.add(new int[] {reference.target()});
                vias.add(reference.via());
              });
      for (int i = 0; i < vias.size(); i++) {
        int to = at(names, targets.get(i)[0], dump);
        Set<String> exact = new HashSet<>();
        dump.objects()
            .references(
                other,
                reference -> {
                  if (reference.target() == to && reference.via().kind() == Via.Kind.FIELD) {
                    exact.add(reference.via().name());
                  }
                });
        if (exact.isEmpty()) {
          continue;
        }
        if (vias.get(i).kind() == Via.Kind.FIELD) {
          assertThat(exact).as(names.typeName(node)).contains(vias.get(i).name());
          same++;
        } else if (vias.get(i).kind() == Via.Kind.UNNAMED) {
          unnamed++;
        }
      }
    }
    System.out.println("  " + same + " fields alike, " + unnamed + " not named");
    assertThat(same).isGreaterThan(1000);
    assertThat(unnamed).isLessThan(same);
  }

  private static void compareVariables(Snapshot names, Snapshot dump) {
    int same = 0;
    int unnamed = 0;
    for (RootInfo root : names.roots()) {
      int other = at(names, root.node(), dump);
      if (other < 0 || !root.kind().equals(RootInfo.STATIC)) {
        continue;
      }
      Set<String> exact = new HashSet<>();
      dump.rootsOf(other).forEach(one -> exact.add(one.detail()));
      if (root.detail().contains(".")) {
        // of a generic class's variables the stream does not tell the arguments
        assertThat(exact)
            .as(root.detail())
            .anyMatch(one -> one.equals(root.detail()) || plain(one).equals(root.detail()));
        same++;
      } else {
        unnamed++;
      }
    }
    System.out.println("  " + same + " static variables alike, " + unnamed + " without a class");
    assertThat(same).isGreaterThan(30);
    assertThat(unnamed).isLessThan(same / 2);
  }

  private static String plain(String name) {
    String shorter = name.replaceAll("<[^<>]*>", "");
    return shorter.equals(name) ? name : plain(shorter);
  }

  /** The same object in another snapshot; -1 if it is not there. */
  private static int at(Snapshot from, int node, Snapshot in) {
    int other = in.nodeOf(from.rawId(node));
    return other >= 0 && in.typeName(other).equals(from.typeName(node)) ? other : -1;
  }
}
