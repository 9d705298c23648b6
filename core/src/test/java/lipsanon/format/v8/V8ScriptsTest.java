package lipsanon.format.v8;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** What the place of a script tells of it. */
class V8ScriptsTest {
  @ParameterizedTest
  @CsvSource({
    "/harbour/node_modules/tides/lib/index.js, tides",
    "file:///harbour/node_modules/@merrow/tides/index.mjs?v=2, @merrow/tides",
    "/harbour/node_modules/tides/node_modules/clock/clock.js, clock",
    "C:\\harbour\\node_modules\\@merrow\\tides\\index.js, @merrow/tides",
    "/harbour/node_modules/single.js, single.js",
    "/harbour/node_modules/, ''"
  })
  void thePackageOfAScript(String script, String name) {
    assertThat(V8Scripts.isForeign(script)).isTrue();
    assertThat(V8Scripts.packageOf(script)).isEqualTo(name);
    assertThat(V8Scopes.Scope.in(script, V8Scopes.AT_TOP + "it").text()).endsWith(" of " + name);
  }

  @ParameterizedTest
  @CsvSource({"/harbour/office.js, false", "node:fs, true", "'', false"})
  void whatIsOfNoPackage(String script, boolean ofRuntime) {
    assertThat(V8Scripts.isForeign(script)).isFalse();
    assertThat(V8Scripts.isLibrary(script)).isEqualTo(ofRuntime);
    V8Scopes.Scope scope = V8Scopes.Scope.in(script, V8Scopes.AT_TOP + "it");
    assertThat(scope.text()).isEqualTo("at the top level of it");
    assertThat(scope.top()).isTrue();
  }
}
