package lipsanon.format.hprof;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** Whose a class is, and how its name is read. */
class JdkNamesTest {
  @ParameterizedTest
  @ValueSource(
      strings = {
        "java.lang.String",
        "javax.net.ssl.SSLSession",
        "jdk.internal.misc.Unsafe",
        "sun.nio.ch.FileChannelImpl",
        "com.sun.jmx.mbeanserver.Repository",
        "org.w3c.dom.Node",
        "byte[]",
        "long[][]",
        "java.lang.Object[]",
        "(class missing)"
      })
  void theRuntimesOwn(String name) {
    assertThat(JdkNames.isLibrary(name)).isTrue();
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "portmerrow.TideBoard",
        "Berth",
        "Berth[]",
        "bytes",
        "javanese.Dictionary",
        "javaxt.Utils",
        "sunrise.Clock",
        "org.w3c.validator.Page",
        "com.sunny.Weather",
        "harbour.java.util.List"
      })
  void somebodyElses(String name) {
    assertThat(JdkNames.isLibrary(name)).isFalse();
    assertThat(JdkNames.isPassage(name)).isFalse();
    assertThat(JdkNames.isObserver(name)).isFalse();
  }

  @Test
  void passagesAndObservers() {
    assertThat(JdkNames.isPassage("java.util.HashMap$Node")).isTrue();
    assertThat(JdkNames.isPassage("java.util.ArrayList")).isTrue();
    assertThat(JdkNames.isPassage("java.lang.Object[]")).isTrue();
    assertThat(JdkNames.isPassage("java.lang.Thread")).isFalse();
    assertThat(JdkNames.isPassage("harbour.Quay$Node")).isFalse();
    assertThat(JdkNames.isObserver("sun.rmi.transport.Target")).isTrue();
    assertThat(JdkNames.isObserver("java.util.HashMap")).isFalse();
    assertThat(JdkNames.traits("java.util.HashMap$Node[]"))
        .extracting(Enum::name)
        .containsExactlyInAnyOrder("ARRAY", "LIBRARY", "PASSAGE", "COLLECTION");
    assertThat(JdkNames.traits("harbour.Quay")).isEmpty();
    assertThat(JdkNames.traits("java.lang.Class"))
        .extracting(Enum::name)
        .containsExactlyInAnyOrder("LIBRARY", "PLAIN", "CODE");
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "java/lang/String | java.lang.String",
        "[B | byte[]",
        "[[Z | boolean[][]",
        "[Ljava/lang/Object; | java.lang.Object[]",
        "[[Lharbour/Quay$Berth; | harbour.Quay$Berth[][]",
        "[ | [",
        "Berth | Berth",
        "harbour.Quay | harbour.Quay"
      })
  void namesOfTheFile(String raw, String name) {
    assertThat(JavaNames.of(raw)).isEqualTo(name);
  }

  @Test
  void bytesOfValues() {
    int[] expected = {0, 0, 8, 0, 1, 2, 4, 8, 1, 2, 4, 8, 0};
    for (int type = 0; type < expected.length; type++) {
      assertThat(HprofFormat.bytes(type, 8)).as("type %d", type).isEqualTo(expected[type]);
    }
    assertThat(HprofFormat.bytes(HprofFormat.OBJECT, 4)).isEqualTo(4);
    assertThat(HprofFormat.primitive(HprofFormat.CHAR)).isEqualTo("char");
  }

  private static ClassInfo.Field[] fields(int... types) {
    ClassInfo.Field[] fields = new ClassInfo.Field[types.length];
    for (int i = 0; i < types.length; i++) {
      fields[i] = new ClassInfo.Field("f" + i, types[i]);
    }
    return fields;
  }

  /** Sizes that the VM's own class histogram has for such classes. */
  @Test
  void fieldsFillGaps() {
    FieldLayout none = FieldLayout.header(12);
    assertThat(none.size(8)).isEqualTo(16);
    FieldLayout one = none.copy();
    one.add(fields(HprofFormat.LONG), 4);
    assertThat(one.size(8)).as("a long leaves a gap of four bytes").isEqualTo(24);
    FieldLayout both = none.copy();
    both.add(fields(HprofFormat.LONG, HprofFormat.INT), 4);
    assertThat(both.size(8)).as("the int goes into the gap").isEqualTo(24);
    FieldLayout subclass = one.copy();
    subclass.add(fields(HprofFormat.OBJECT), 4);
    assertThat(subclass.size(8)).as("a gap of the superclass is used").isEqualTo(24);
    FieldLayout wide = one.copy();
    wide.add(fields(HprofFormat.OBJECT), 8);
    assertThat(wide.size(8)).isEqualTo(32);
    FieldLayout small = none.copy();
    small.add(fields(HprofFormat.BYTE, HprofFormat.SHORT, HprofFormat.BOOLEAN), 4);
    assertThat(small.size(8)).isEqualTo(16);
    assertThat(small.size(16)).isEqualTo(16);
    small.add(fields(HprofFormat.BYTE), 4);
    assertThat(small.size(8)).isEqualTo(24);
    assertThat(none.withHiddenLongs(2, 4).size(8)).isEqualTo(32);
    assertThat(FieldLayout.filled(40).size(8)).isEqualTo(40);
    assertThat(none.size(8)).as("copies leave the original alone").isEqualTo(16);
  }
}
