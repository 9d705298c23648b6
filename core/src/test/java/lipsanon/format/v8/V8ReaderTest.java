package lipsanon.format.v8;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import lipsanon.graph.Strength;
import lipsanon.index.FieldValue;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;
import lipsanon.io.Progress;
import lipsanon.snapshot.Snapshots;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class V8ReaderTest {
  @TempDir Path folder;

  private Snapshot open(V8Builder builder) throws Exception {
    Path file = folder.resolve("office.heapsnapshot");
    Files.write(file, V8Builder.sample(builder).bytes());
    return Snapshots.open(
        file, new Snapshots.Options(null, folder, false, 1L << 30), Progress.NONE);
  }

  @Test
  void objectsRootsAndWeakMaps() throws Exception {
    try (Snapshot s = open(new V8Builder())) {
      checkSample(s);
    }
  }

  @Test
  void columnsInAnotherOrder() throws Exception {
    V8Builder turned =
        new V8Builder(
            List.of("edge_count", "self_size", "later", "id", "name", "type"),
            List.of("to_node", "new", "name_or_index", "type"));
    try (Snapshot s = open(turned)) {
      checkSample(s);
    }
  }

  private static void checkSample(Snapshot s) throws Exception {
    assertThat(s.objectCount()).isEqualTo(15);
    assertThat(s.totals().shallowBytes()).isEqualTo(848);
    assertThat(s.nodeOf("@9999")).isEqualTo(-1);
    assertThat(s.nodeOf("0x19")).isEqualTo(-1);
    int name = s.nodeOf("@2207660801");
    assertThat(s.id(name)).isEqualTo("@2207660801");
    assertThat(s.objects().text(name, 99)).isEqualTo("tide \"board\" ü");
    assertThat(s.typeName(s.nodeOf("@41"))).isEqualTo("Window");
    assertThat(s.typeName(s.nodeOf("@33"))).isEqualTo("system / Context / scope");
    assertThat(s.typeName(s.nodeOf("@44"))).isEqualTo("<section>");
    assertThat(s.typeName(s.nodeOf("@29"))).isEqualTo("v8:array");
    assertThat(s.objects().label(s.nodeOf("@44"), 60)).isEqualTo("id=\"berths\" class=\"x\"");
    assertThat(s.rootsOf(s.nodeOf("@41")).get(0).kind()).isEqualTo("global object");
    assertThat(s.rootsOf(s.nodeOf("@27")).get(0).kind()).isEqualTo("Strong roots");
    assertThat(s.rootsOf(s.nodeOf("@45"))).isEmpty();
    assertThat(s.strength(s.nodeOf("@45"))).isEqualTo(Strength.UNRETAINED);
    // the key holds the value, not the table
    assertThat(s.dominator(s.nodeOf("@31"))).isEqualTo(s.nodeOf("@25"));
    assertThat(s.retainedBytes(s.nodeOf("@27"))).isEqualTo(32 + 80);
    assertThat(s.objects().viaTo(s.nodeOf("@29"), s.nodeOf("@31"))).isNull();
    assertThat(s.objects().viaTo(s.nodeOf("@23"), s.nodeOf("@25")).text()).isEqualTo("[0]");
    assertThat(s.objects().viaTo(s.nodeOf("@19"), s.nodeOf("@23")).text())
        .isEqualTo("Board.berths");
    assertThat(s.objects().viaTo(s.nodeOf("@33"), s.nodeOf("@23")).text())
        .isEqualTo("variable `kept` in the scope of `onCall` (board.js:41)");
    assertThat(s.objects().label(s.nodeOf("@35"), 60)).isEqualTo("onCall (board.js:41)");
    assertThat(s.retainedBytes(s.nodeOf("@41"))).isEqualTo(848 - 56 - 112);
    List<String> fields = new ArrayList<>();
    for (FieldValue field : s.objects().fields(s.nodeOf("@19"), 9)) {
      fields.add(field.via().text());
    }
    assertThat(fields).containsExactly("Board.name", "Board.berths", "Board.onCall", "Board.page");
  }

  @Test
  void ownTypesAreThoseWithAConstructorInAScript() throws Exception {
    try (Snapshot s = open(new V8Builder())) {
      List<String> own = new ArrayList<>();
      for (TypeInfo type : s.types()) {
        if (!type.library()) {
          own.add(type.name());
        }
      }
      // the script of the berth's constructor has no function left, but is a script all the same
      assertThat(own).containsExactlyInAnyOrder("Board", "Berth");
    }
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "object|Board|Board",
        "object|Window [JSGlobalObject] / http://127.0.0.1:8080|Window",
        "object|HTMLElement (prototype) / http://127.0.0.1|HTMLElement",
        "object|system / Context / scope @4240|system / Context / scope",
        "object|Node / Environment|Node / Environment",
        "object|''|(no name)",
        "native|<td>|<td>",
        "native|<div class=\"row\">|<div>",
        "native|EventListener|EventListener",
        "closure|onCall|v8:closure",
        "concatenated string|x|v8:concatenated string"
      })
  void namesOfTypes(String v8Type, String name, String type) {
    assertThat(V8Types.name(v8Type, name)).isEqualTo(type);
  }
}
