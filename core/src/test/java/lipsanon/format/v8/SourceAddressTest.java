package lipsanon.format.v8;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class SourceAddressTest {
  @ParameterizedTest
  @CsvSource({
    "http://port-merrow/assets/app.js.map, '', ../src/berths.ts, http://port-merrow/src/berths.ts",
    "http://port-merrow/assets/app.js?v=/3, '', berths.ts, http://port-merrow/assets/berths.ts",
    "http://port-merrow/app.js, '', ../../src/berths.ts, http://port-merrow/src/berths.ts",
    "http://port-merrow/app.js, src, berths.ts, http://port-merrow/src/berths.ts",
    "http://port-merrow/app.js, src/, ./berths.ts, http://port-merrow/src/berths.ts",
    "http://port-merrow/app.js, src, /harbour/berths.ts, /harbour/berths.ts",
    "/harbour/dist/app.js.map, '', ../src/./a/../berths.ts, /harbour/src/berths.ts",
    "app.js, '', ../src/berths.ts, ../src/berths.ts",
    "app.js, '', src/../berths.ts, berths.ts",
    "x/app.js, '', webpack://office/./src/berths.ts, webpack://office/src/berths.ts",
    "x/app.js, '', webpack:///./src/berths.ts, webpack:///src/berths.ts",
    "x/app.js, '', C:\\harbour\\berths.ts, C:\\harbour\\berths.ts"
  })
  void sourcesAreToldFromTheirMap(String base, String root, String source, String address) {
    assertThat(SourceAddress.of(base, root, source)).isEqualTo(address);
  }

  @Test
  void whatLiesFurtherOutThanThePackagesIsNotOfTheProject() {
    List<String> all =
        SourceAddress.all(
            "http://port-merrow/assets/app.js",
            "",
            List.of(
                "../node_modules/tides/index.js",
                "../src/berths.ts",
                "../../../packages/core/view.ts",
                "pilots.ts"));
    assertThat(all)
        .containsExactly(
            "http://port-merrow/node_modules/tides/index.js",
            "http://port-merrow/src/berths.ts",
            "/node_modules/~/packages/core/view.ts",
            "http://port-merrow/assets/pilots.ts");
    assertThat(all).map(V8Scripts::isForeign).containsExactly(true, false, true, false);
    assertThat(V8Scripts.packageOf(all.get(2))).isEqualTo("a library");
    assertThat(SourceAddress.all("a/b.js", "", List.of("../../../src/x.ts")))
        .noneMatch(V8Scripts::isForeign);
  }
}
