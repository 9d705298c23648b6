package lipsanon.scripts;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Map;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class DeclarationsTest {
  /** Names that are found, in alphabetical order; each stands where it is said to stand. */
  private static String names(String script) {
    Map<String, int[]> found = Declarations.of(script);
    String[] lines = script.split("\n", -1);
    found.forEach(
        (name, place) -> assertThat(lines[place[0]].substring(place[1])).startsWith(name));
    return String.join(" ", found.keySet().stream().sorted().toList());
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '^',
      value = {
        "var a = 1, b, c = f(d, e), g; | a b c g",
        "let a=function(){var x=1,y;let z},b=2 | a b",
        "const a=(x,y)=>x,b=[1,{c:2},d],e={f,g:h} | a b e",
        "var {a,b:c,d=1,...e}=f,g | a c d e g",
        "var [a,,b=[c],[d]]=f;let e | a b c d e",
        "class Tides{constructor(){let x}#y=1;static z(){}}class B extends C{} | B Tides",
        "export default function go(){} export const a=1;export{a as b} | a go",
        "async function f(){} function*g(){var q} let h=class I{} | f g h",
        "for(const a of b){let c}for(var d=0,e=1;d<2;d++){} var f | a d e f",
        "a.var=1;b.class;c.let(d);var e=f.var | e",
        "({class:1,function:2,var:3});var a={class:'x',let:1},b | a b",
        "var a='var x',b=\"let y\\\" var z\",c=`let ${(()=>{var w;return`${1}}`})()} var v`,d | a b c d",
        "var a=1//var x | a",
        "var a=/[/\"']var x=\\/\"/g,b=c/2/d,e=(f)/g;var h | a b e h",
        "var a=x?/}{/:y,b=typeof/\"/,c;return/`/.test(d);var e | a b c e",
        "var a/*,b*/,c/* ,d*/=1 | a c",
        "'use strict';(()=>{var a=1,b=()=>{var c};class D{}function e(f){}})() | D a b e",
        "(function(e){let t={};t.x=1;let n=[];})(window) | n t",
        "var a=1;(()=>{var b=2})() | a",
        "var a=1,b=2;var a=3 | b",
        "let $a=1,_b=2,ü=3; | $a _b ü",
        "x=`a${b}c${`d${e}f`}g`;var h | h",
        "`unfinished ${ var | ^^",
        "'unfinished | ^^",
        "/unfinished | ^^",
        "}}}}))]var a;{{{ | a",
        "^^ | ^^"
      })
  void whatStandsInNoFunction(String script, String names) {
    assertThat(names(script)).isEqualTo(names);
  }

  @Test
  void placesAreThoseOfTheNames() {
    Map<String, int[]> found = Declarations.of("\n// x\n  var\n tide /* y\n */ ,\n\tlow;\r\nlet a");
    assertThat(found.get("tide")).containsExactly(3, 1);
    assertThat(found.get("low")).containsExactly(5, 1);
    assertThat(found.get("a")).containsExactly(6, 4);
  }

  /** Whatever the text is: it ends, and all places are within it. */
  @Test
  void anyText() {
    Random random = new Random(5);
    for (int round = 0; round < 20_000; round++) {
      names(RandomScripts.next(random, 30));
    }
  }
}
