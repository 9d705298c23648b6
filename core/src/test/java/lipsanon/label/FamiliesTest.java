package lipsanon.label;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Classes that are made while a program runs are of one family; ordinary ones stay apart. */
class FamiliesTest {
  @ParameterizedTest
  @CsvSource({
    "harbour.Call$$Lambda$7+0x00007f001, harbour.Call$$Lambda",
    "harbour.Call$$Lambda/0x00007f001, harbour.Call$$Lambda",
    "harbour.Call$$Lambda+0x1, harbour.Call$$Lambda",
    "harbour.Call$$Lambda.0x000000006d040210, harbour.Call$$Lambda",
    "jdk.proxy2.$Proxy17, jdk.proxy.$Proxy",
    "com.sun.proxy.$Proxy3, com.sun.proxy.$Proxy",
    "jdk.internal.reflect.GeneratedMethodAccessor12, jdk.internal.reflect.GeneratedMethodAccessor",
    "java.lang.invoke.LambdaForm$MH+0x8, java.lang.invoke.LambdaForm$MH",
    "Script42, Script",
    "Script_3$closure, Script$closure",
    "harbour.Quay$$EnhancerByHarbour$$1a2b3c4d, harbour.Quay$$EnhancerByHarbour",
    "harbour.Berth2, harbour.Berth2",
    "harbour.Quay$1, harbour.Quay$1",
    "harbour.Manuscript, harbour.Manuscript"
  })
  void named(String type, String family) {
    assertThat(Families.of(type)).isEqualTo(family);
  }

  @ParameterizedTest
  @CsvSource({
    "harbour.Mould12, harbour.Mould, true",
    "harbour.Quay$7, harbour.Quay$, true",
    "harbour.Quay$Made$q3fX7aZZ, harbour.Quay$Made, true",
    "harbour.Quay$Registry, harbour.Quay, false",
    "harbour.Quay, harbour.Quay, false",
    "harbour.Berth2Plan, harbour.Berth2Plan, false"
  })
  void madeOneAfterTheOther(String type, String stem, boolean numbered) {
    assertThat(Families.stem(type)).isEqualTo(stem);
    assertThat(Families.isNumbered(type)).isEqualTo(numbered);
  }
}
