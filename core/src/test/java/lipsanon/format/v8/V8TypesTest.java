package lipsanon.format.v8;

import static org.assertj.core.api.Assertions.assertThat;

import lipsanon.index.TypeInfo;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Names as V8 gives them, and the types that a developer would name. */
class V8TypesTest {
  @ParameterizedTest
  @CsvSource(
      delimiter = ';',
      value = {
        "object; Berth; Berth",
        "object; Berth @4711; Berth",
        "object; Window / http://port-merrow; Window",
        "object; Window [JSGlobalObject] / http://port-merrow; Window",
        "object; Map (prototype); Map",
        "object; system / Context; system / Context",
        "object; system / Context / scope @4240; system / Context / scope",
        "object; Node / Environment; Node / Environment",
        "object; ''; (no name)",
        "native; <div class=\"tide\" id=\"x\">; <div>",
        "native; <body>; <body>",
        "native; HTMLDocument; HTMLDocument",
        "native; ''; (no name)",
        "closure; onTide; v8:closure",
        "string; a long text; v8:string",
        "code; (code for onTide); v8:code",
        "object shape; system / Map; v8:object shape"
      })
  void names(String kind, String name, String type) {
    assertThat(V8Types.name(kind, name)).isEqualTo(type);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = ';',
      value = {
        "object; Berth; false; false; false; false; false; false",
        "object; Object; false; false; false; false; true; false",
        "object; Array; true; false; false; false; true; false",
        "object; system / Context; false; true; false; true; true; false",
        "object; Node / Environment; false; true; false; false; false; false",
        "array; v8:array; true; true; false; true; true; false",
        "code; v8:code; false; true; true; false; true; false",
        "closure; v8:closure; false; true; false; false; true; false",
        "native; blink::Node; false; true; false; false; true; true",
        "native; blink::JSEventListener; false; true; false; false; true; false",
        "native; <div>; false; true; false; false; true; false"
      })
  void traits(
      String kind,
      String type,
      boolean array,
      boolean library,
      boolean observer,
      boolean passage,
      boolean plain,
      boolean machinery) {
    TypeInfo info = V8Types.info(kind, type);
    assertThat(info.name()).isEqualTo(type);
    assertThat(info.array()).as("array").isEqualTo(array);
    assertThat(info.library()).as("library").isEqualTo(library);
    assertThat(info.observer()).as("observer").isEqualTo(observer);
    assertThat(info.passage()).as("passage").isEqualTo(passage);
    assertThat(info.plain()).as("plain").isEqualTo(plain);
    assertThat(info.machinery()).as("machinery").isEqualTo(machinery);
  }

  /** A program's own class may have the name of a browser's. */
  @ParameterizedTest
  @CsvSource(
      delimiter = ';',
      value = {
        "native; HTMLDocument; true",
        "native; Window / http://harbour.test; true",
        "object; system / NativeContext / http://harbour.test; true",
        "hidden; system / NativeContext; false",
        "object; Document; false",
        "object; Window; false",
        "native; <div>; false"
      })
  void pages(String kind, String type, boolean page) {
    assertThat(V8Types.info(kind, type).is(TypeInfo.Trait.PAGE)).isEqualTo(page);
  }

  @Test
  void onlyObjectsAndNativesHaveNamesThatMatter() {
    assertThat(V8Types.isNamed("object")).isTrue();
    assertThat(V8Types.isNamed("native")).isTrue();
    assertThat(V8Types.isNamed("string")).isFalse();
  }
}
