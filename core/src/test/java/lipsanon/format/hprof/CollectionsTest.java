package lipsanon.format.hprof;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import lipsanon.index.ObjectReader;
import lipsanon.index.Snapshot;
import lipsanon.index.Via;
import lipsanon.io.Progress;
import lipsanon.snapshot.Snapshots;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The contents of the JDK's collections, as their users see them, on JDK 17 and a later one. */
class CollectionsTest {
  @TempDir Path folder;

  @Test
  void onThisJdk() throws Exception {
    check(LiveJvm.current(), "own");
  }

  @Test
  void onJdk25() throws Exception {
    Path home = LiveJvm.installed(25);
    org.junit.jupiter.api.Assumptions.assumeTrue(home != null, "no JDK 25 here");
    check(home, "25");
  }

  private void check(Path home, String name) throws Exception {
    Path file = folder.resolve(name + ".hprof");
    try (LiveJvm jvm = LiveJvm.start(home, CollectionsZoo.class, "-Xmx64m")) {
      jvm.dump(file);
    }
    Snapshots.Options options = new Snapshots.Options(null, folder, true, 1L << 30);
    try (Snapshot s = Snapshots.open(file, options, Progress.NONE)) {
      ObjectReader objects = s.objects();
      int[] all = {-1};
      for (int n = 0; n < s.objectCount(); n++) {
        if (("class " + CollectionsZoo.class.getName()).equals(objects.text(n, 200))) {
          objects.references(
              n,
              reference -> {
                Via via = reference.via();
                all[0] = via.name().equals("ALL") ? reference.target() : all[0];
              });
        }
      }
      ObjectReader.Entries entries = objects.entries(all[0], 99);
      assertThat(entries.size()).isEqualTo(23);
      for (ObjectReader.Entry entry : entries.entries()) {
        String key = objects.text(entry.key(), 99);
        one(objects, key, entry.value());
      }
    }
  }

  private static void one(ObjectReader objects, String name, int node) throws Exception {
    ObjectReader.Entries contents = objects.entries(node, 99);
    assertThat(contents).as(name).isNotNull();
    List<String> texts = new ArrayList<>();
    for (ObjectReader.Entry entry : contents.entries()) {
      boolean map = name.startsWith("map ");
      texts.add(objects.text(map ? entry.key() : entry.value(), 99));
      if (map) {
        assertThat(objects.text(entry.value(), 99)).as(name).endsWith(" value");
      }
    }
    assertThat(texts).as(name).containsExactlyInAnyOrderElementsOf(CollectionsZoo.TEXTS);
    assertThat(contents.size()).as(name).isIn(3L, -1L);
    if (objects.entries(node, 2) != null) {
      assertThat(objects.entries(node, 2).entries()).as(name).hasSizeLessThanOrEqualTo(2);
    }
  }
}
