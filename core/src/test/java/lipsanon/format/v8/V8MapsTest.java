package lipsanon.format.v8;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.ByteArrayOutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import lipsanon.index.ObjectReader;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;
import lipsanon.index.Via;
import lipsanon.io.FileSource;
import lipsanon.io.Progress;
import lipsanon.redact.Pseudonyms;
import lipsanon.snapshot.Snapshots;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Snapshots that bring the source maps of their scripts along. */
class V8MapsTest {
  private static final String URL = "/harbour/board.js";

  @TempDir Path folder;

  /** What is told of script 7; the places are those of {@link V8Builder#sample}. */
  private static String maps(MapBuilder map, String declared) {
    return "{\"7\":{\"url\":\""
        + URL
        + "\",\"base\":\"/harbour/board.js.map\",\"declared\":"
        + declared
        + ",\"map\":"
        + map.json()
        + "}}";
  }

  private Snapshot open(V8Builder builder) throws Exception {
    Path file = folder.resolve("office.heapsnapshot");
    Files.write(file, builder.bytes());
    return Snapshots.open(
        file, new Snapshots.Options(null, folder, false, 1L << 30), Progress.NONE);
  }

  private static TypeInfo type(Snapshot s, String id) {
    return s.types().get(s.type(s.nodeOf(id)));
  }

  @Test
  void placesAndNamesAreThoseOfTheSource() throws Exception {
    MapBuilder map =
        new MapBuilder()
            .add(3, 0, "src/view.ts", 8, 0, "TideBoard")
            .add(40, 0, "src/calls.ts", 11, 4, null);
    V8Builder sample =
        V8Builder.sample(new V8Builder())
            .member(ScriptMap.MEMBER, maps(map, "{\"Board\":[3,0],\"x\":7}"));
    try (Snapshot s = open(sample)) {
      assertThat(s.objects().label(s.nodeOf("@35"), 60)).isEqualTo("onCall (calls.ts:12)");
      assertThat(s.objects().code(s.nodeOf("@35"))).isEqualTo(ObjectReader.Code.OWN);
      assertThat(type(s, "@19").name()).isEqualTo("TideBoard");
      assertThat(type(s, "@25").name()).isEqualTo("Berth");
      assertThat(s.objects().viaTo(s.nodeOf("@33"), s.nodeOf("@23")).text())
          .isEqualTo("variable `kept` in the scope of `onCall` (calls.ts:12)");
      assertThat(s.objects().viaTo(s.nodeOf("@19"), s.nodeOf("@23")).text())
          .isEqualTo("TideBoard.berths");
    }
  }

  @Test
  void whatWasWrittenInPackagesIsTheirs() throws Exception {
    MapBuilder map =
        new MapBuilder()
            .add(3, 0, "node_modules/boards/view.ts", 8, 0, null)
            .add(40, 0, "node_modules/boards/calls.ts", 11, 4, null);
    V8Builder sample = V8Builder.sample(new V8Builder()).member(ScriptMap.MEMBER, maps(map, "{}"));
    try (Snapshot s = open(sample)) {
      assertThat(s.objects().code(s.nodeOf("@35"))).isEqualTo(ObjectReader.Code.LIBRARY);
      assertThat(type(s, "@19").is(TypeInfo.Trait.FOREIGN)).isTrue();
      Via via = s.objects().viaTo(s.nodeOf("@33"), s.nodeOf("@23"));
      assertThat(via.kind()).isEqualTo(Via.Kind.LIBRARY_VARIABLE);
      assertThat(via.text())
          .isEqualTo("variable `kept` in the scope of `onCall` (calls.ts:12) of boards");
    }
  }

  /** Of all modules a bundler makes one scope, whose function is gone when it has run. */
  private static V8Builder bundle(String declared) {
    V8Builder b = new V8Builder();
    int root = b.node("synthetic", "", 1, 0);
    int window = b.node("object", "Window [JSGlobalObject] / http://port-merrow", 41, 40);
    int realm = b.node("native", "system / NativeContext / http://port-merrow", 43, 40);
    int act = b.node("closure", "a", 35, 64);
    int shared = b.node("code", "a", 37, 56);
    int script = b.node("code", "system / Script / http://port-merrow/app.js", 39, 144);
    int name = b.node("string", "http://port-merrow/app.js", 47, 40);
    int context = b.node("object", "system / Context / scope @4240", 33, 40);
    int scopeInfo = b.node("code", "system / ScopeInfo", 45, 40);
    int inner = b.node("code", "system / ScopeInfo", 49, 40);
    int around = b.node("code", "(shared function info)", 51, 56);
    int calls = b.node("object", "Array", 23, 32);
    int views = b.node("object", "Map", 25, 32);
    b.edge(root, "shortcut", "1", window).edge(root, "element", 2, realm);
    b.edge(window, "property", "act", act).edge(act, "internal", "shared", shared);
    b.edge(act, "internal", "context", context);
    b.edge(shared, "internal", "script_or_debug_info", script);
    b.edge(shared, "internal", "name_or_scope_info", inner);
    b.edge(around, "internal", "script_or_debug_info", script);
    b.edge(around, "internal", "name_or_scope_info", scopeInfo);
    b.edge(inner, "internal", "5", scopeInfo);
    b.edge(script, "internal", "1", around).edge(script, "internal", "name", name);
    b.edge(context, "internal", "scope_info", scopeInfo);
    b.edge(context, "internal", "previous", realm);
    b.edge(context, "context", "t", calls).edge(context, "context", "v", views);
    b.location(act, 7, 0, 90);
    MapBuilder map =
        new MapBuilder()
            .add(0, 20, "../src/berths.ts", 4, 6, "calls")
            .add(0, 30, "../node_modules/boards/index.js", 9, 4, null)
            .add(0, 88, "../src/office.ts", 1, 0, "act")
            .add(0, 90, "../src/office.ts", 1, 13, null);
    String maps =
        "{\"7\":{\"url\":\"http://port-merrow/app.js\",\"base\":\"http://port-merrow/assets/app.js\","
            + declared
            + "\"map\":"
            + map.json()
            + "}}";
    return b.member(ScriptMap.MEMBER, maps);
  }

  private static List<String> variables(Snapshot s) throws Exception {
    return List.of(
        s.objects().viaTo(s.nodeOf("@33"), s.nodeOf("@23")).text(),
        s.objects().viaTo(s.nodeOf("@33"), s.nodeOf("@25")).text());
  }

  @Test
  void variablesOfABundleStandWhereTheyWereWritten() throws Exception {
    try (Snapshot s = open(bundle("\"declared\":{\"t\":[0,20],\"v\":[0,30]},"))) {
      assertThat(variables(s))
          .containsExactly(
              "variable `calls` at the top level of berths.ts:5",
              "variable `v` at the top level of index.js:10 of boards");
      assertThat(s.objects().label(s.nodeOf("@35"), 60)).isEqualTo("act (office.ts:2)");
    }
  }

  /** A bundler has put a function around the modules, of which one function within is known. */
  @Test
  void variablesOfAModuleInAFunctionStandWhereTheyWereWritten() throws Exception {
    String scopes = "\"scopes\":[[0,10,0,200,\"t\",0,20,\"v\",0,30],[0,90,0,99,\"t\",0,91]],";
    try (Snapshot s = open(bundle(scopes))) {
      assertThat(variables(s))
          .containsExactly(
              "variable `calls` at the top level of berths.ts:5",
              "variable `v` at the top level of index.js:10 of boards");
    }
  }

  /** Classes to which a bundler gave the same name, told by the functions that they stand in. */
  @Test
  void classesThatShareAShortNameAreTypesOfTheirOwn() throws Exception {
    V8Builder b = new V8Builder();
    int root = b.node("synthetic", "", 1, 0);
    int list = b.node("object", "Array", 3, 32);
    b.edge(root, "element", 1, list);
    int[] columns = {40, 40, 60, 60, 60, 80, 90};
    for (int i = 0; i < columns.length; i++) {
      int object = b.node("object", i == 6 ? "Tide" : "e", 5 + 2 * i, 24);
      b.edge(list, "element", i, object);
      b.location(object, 7, 0, columns[i]);
    }
    MapBuilder map =
        new MapBuilder()
            .add(0, 35, "src/berths.ts", 3, 8, "Berth")
            .add(0, 40, "src/berths.ts", 4, 2, null)
            .add(0, 55, "node_modules/pilots/index.js", 6, 8, "Pilot")
            .add(0, 60, "node_modules/pilots/index.js", 7, 2, null)
            .add(0, 78, "src/office.ts", 1, 0, null)
            .add(0, 90, "src/office.ts", 5, 0, null);
    String scopes = "[[0,30,0,50,\"class e\",0,35],[0,52,0,70,\"e\",0,55]]";
    String maps =
        "{\"7\":{\"url\":\"/app.js\",\"base\":\"/app.js.map\",\"scopes\":"
            + scopes
            + ",\"map\":"
            + map.json()
            + "}}";
    try (Snapshot s = open(b.member(ScriptMap.MEMBER, maps))) {
      assertThat(type(s, "@5").name()).isEqualTo("Berth");
      assertThat(type(s, "@7").name()).isEqualTo("Berth");
      assertThat(type(s, "@7").is(TypeInfo.Trait.FOREIGN)).isFalse();
      assertThat(type(s, "@9").name()).isEqualTo("Pilot");
      assertThat(type(s, "@13").is(TypeInfo.Trait.FOREIGN)).isTrue();
      // of which nothing is known
      assertThat(type(s, "@15").name()).isEqualTo("e");
      assertThat(type(s, "@17").name()).isEqualTo("Tide");
      assertThat(s.types().stream().map(TypeInfo::name)).doesNotHaveDuplicates();
    }
  }

  @ParameterizedTest
  @ValueSource(strings = {"", "\"declared\":{\"t\":[0,3],\"v\":[]},", "\"declared\":[7],"})
  void variablesOfABundleThatAreNotKnown(String declared) throws Exception {
    try (Snapshot s = open(bundle(declared))) {
      assertThat(variables(s))
          .containsExactly(
              "variable `t` at the top level of app.js", "variable `v` at the top level of app.js");
    }
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "7",
        "[]",
        "{}",
        "{\"7\":7}",
        "{\"7\":{\"map\":[]}}",
        "{\"7\":{\"map\":{}}}",
        "{\"99999999999\":{\"map\":{}}}",
        "{\"7\":{\"map\":{\"mappings\":\"~~~\"}}}",
        "{\"7\":{\"scopes\":[[],[1],[[],{}],[-9,\"a\",\"b\",-1],[0,0,99,0,\"onCall\",1e99]]}}",
        "{\"7\":{\"scopes\":{\"a\":[1]},\"declared\":{}}}"
      })
  void aMemberThatSaysNothing(String json) throws Exception {
    V8Builder sample = V8Builder.sample(new V8Builder()).member(ScriptMap.MEMBER, json);
    try (Snapshot s = open(sample)) {
      assertThat(s.objects().label(s.nodeOf("@35"), 60)).isEqualTo("onCall (board.js:41)");
    }
  }

  @Test
  void aRedactedCopyTellsTheSamePlaces() throws Exception {
    Path file = folder.resolve("office.heapsnapshot");
    String declared = "\"scopes\":[[0,10,0,99,\"t\",0,20]],";
    Files.write(file, bundle(declared).bytes());
    ByteArrayOutputStream copy = new ByteArrayOutputStream();
    try (FileSource source = new FileSource(file)) {
      V8Redactor.copy(source, copy, new Pseudonyms(null), Progress.NONE);
    }
    assertThat(copy.toString(StandardCharsets.UTF_8))
        .contains("berths.ts", "\"calls\"", "node_modules/boards/index.js")
        .doesNotContain("assets")
        .doesNotContain("src/");
    Path redacted = folder.resolve("redacted.heapsnapshot");
    Files.write(redacted, copy.toByteArray());
    try (Snapshot s =
        Snapshots.open(
            redacted, new Snapshots.Options(null, folder, false, 1L << 30), Progress.NONE)) {
      assertThat(variables(s).get(0)).isEqualTo("variable `calls` at the top level of berths.ts:5");
    }
  }
}
