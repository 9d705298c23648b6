package lipsanon.scripts;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class InnerScopesTest {
  /**
   * Scopes by where they end: what the script has between their bounds, shortened, and their names;
   * classes with an asterisk.
   */
  private static String scopes(String script) {
    String[] lines = script.split("\n", -1);
    List<String> told = new ArrayList<>();
    List<InnerScope> all = InnerScopes.of(script);
    for (InnerScope scope : all) {
      List<String> names = new ArrayList<>();
      scope
          .names()
          .forEach(
              (name, place) -> {
                assertThat(lines[place[0]].substring(place[1])).startsWith(name);
                names.add(name + (place[2] == 1 ? "*" : ""));
              });
      String begin = lines[scope.line()].substring(scope.column());
      boolean whole = scope.line() == 0 && scope.column() == 0 && scope == all.get(all.size() - 1);
      told.add(
          (whole ? "all" : begin.substring(0, Math.min(3, begin.length())).strip())
              + " "
              + String.join(" ", names.stream().sorted().toList()));
    }
    return String.join("; ", told);
  }

  private static InnerScope last(String script) {
    List<InnerScope> all = InnerScopes.of(script);
    return all.get(all.size() - 1);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '^',
      value = {
        "function f(a,b){var c} | (a, a b c; all f",
        "f(function(a){let b}) | (a) a b",
        "x=a=>b=>a+b;var c | b=> b; a=> a; all c",
        "x=(a,b)=>{const c=1} | (a, a b c",
        "f(a=>a.b,c=>c.d) | a=> a; c=> c",
        "x=async(a)=>a;y=async b=>b | (a) a; b=> b",
        "function f({a,b:c,d:{e=1}},[g,,h],...i){} | ({a a c e g h i; all f",
        "function f(a=b(c),d=e=>e){} | e=> e; (a= a d; all f",
        "if(a){let b}for(const c of d){let e} | {le b; {le e; all c",
        "while(x){var a}switch(y){case 1:let b} | {ca b; all a",
        "try{}catch(a){var b;let c} | (a) a c; all b",
        "class A{constructor(a){}get b(){let c}static d(e){}} | (a) a; (){ c; (e) e; all A*",
        "var a=class{},b=class C{};let d;d=class extends E{} | all a* b* d*",
        "(()=>{var a=class{m(b){}}})() | (b) b; ()= a*",
        "f({a(b){},c:function(d){},e:g=>g}) | (b) b; (d) d; g=> g",
        "var {a,b:c}=d,[e]=f;{let {g}=h} | {le g; all a c e",
        "x=`a${b=>b}c${function(d){}}e` | b=> b; (d) d",
        "x=(e,t)=>e>=t?e=>t:t==e | e=> e; (e, e t",
        "f((a),b,[c],{d}) | ^^",
        "x=a=>({b:c,d}) | a=> a",
        "a.let(b);c.function=d;e.class;f={var:1,let:2} | ^^",
        "function f(a){return function(b){return c=>{let d}}} | c=> c d; (b) b; (a) a; all f",
        "}}}))]var a;{{{ | all a",
        "^^ | ^^"
      })
  void whatFunctionsAndBlocksDeclare(String script, String scopes) {
    assertThat(scopes(script)).isEqualTo(scopes);
  }

  @Test
  void anArrowWithoutBracesEndsWithItsStatement() {
    String script = "const f = a => a\nconst g = 1\nlet h = () => [\n  b => b,\n  g\n]\n";
    List<InnerScope> all = InnerScopes.of(script);
    assertThat(all.get(0).names().keySet()).containsExactly("a");
    assertThat(all.get(0).endLine()).isEqualTo(1);
    assertThat(all.get(1).names().keySet()).containsExactly("b");
    assertThat(all.get(1).endLine()).isEqualTo(3);
    assertThat(last(script).names().keySet()).containsExactly("f", "g", "h");
  }

  /** Whatever the text is: it ends, and scopes lie within each other or beside. */
  @Test
  void anyText() {
    Random random = new Random(14);
    for (int round = 0; round < 4000; round++) {
      String text = RandomScripts.next(random, 41);
      List<InnerScope> all = InnerScopes.of(text);
      for (InnerScope one : all) {
        for (InnerScope other : all) {
          boolean apart =
              compare(end(one), begin(other)) <= 0 || compare(end(other), begin(one)) <= 0;
          boolean within = within(one, other) || within(other, one);
          assertThat(apart || within).as("%s: %s %s", text, one, other).isTrue();
        }
        for (Map.Entry<String, int[]> name : one.names().entrySet()) {
          assertThat(text.split("\n", -1)[name.getValue()[0]].substring(name.getValue()[1]))
              .startsWith(name.getKey());
        }
      }
    }
  }

  private static int[] begin(InnerScope scope) {
    return new int[] {scope.line(), scope.column()};
  }

  private static int[] end(InnerScope scope) {
    return new int[] {scope.endLine(), scope.endColumn()};
  }

  private static int compare(int[] a, int[] b) {
    return a[0] != b[0] ? a[0] - b[0] : a[1] - b[1];
  }

  private static boolean within(InnerScope one, InnerScope other) {
    return compare(begin(other), begin(one)) <= 0 && compare(end(one), end(other)) <= 0;
  }
}
