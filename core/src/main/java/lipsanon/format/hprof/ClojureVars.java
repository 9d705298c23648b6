package lipsanon.format.hprof;

import java.io.IOException;
import java.util.BitSet;
import lipsanon.index.Snapshot;
import lipsanon.index.Via;

/**
 * The global variables of Clojure: objects that a namespace lists by name, with the variable's
 * value in a field. Compiled functions refer to them, and to other constants, by static fields with
 * numbers for names, which say nothing to anybody.
 */
final class ClojureVars {
  private static final String VAR = "clojure.lang.Var";
  private static final String CONSTANT = "const__";
  private static final int LONGEST_NAME = 200;

  private final HprofDetail detail;
  private final BitSet types = new BitSet();

  ClojureVars(Snapshot snapshot, HprofDetail detail) {
    this.detail = detail;
    for (int t = 0; t < snapshot.types().size(); t++) {
      types.set(t, snapshot.types().get(t).name().equals(VAR));
    }
  }

  boolean isVar(int type) {
    return type >= 0 && types.get(type);
  }

  /** Whether a field is the one with a variable's value. */
  static boolean isValue(Via field) {
    return field.name().equals("root") && field.owner().equals(VAR);
  }

  /** How a variable has its value, by its namespace and name; null for one without a name. */
  Via of(int node) throws IOException {
    String namespace = symbol(inside(node, "ns"));
    String name = symbol(node);
    return namespace.isEmpty() || name.isEmpty()
        ? null
        : new Via(Via.Kind.GLOBAL, namespace, name, -1);
  }

  /** The name of the symbol that an object has, of a variable its own, of a namespace its own. */
  private String symbol(int node) throws IOException {
    int symbol = inside(node, "sym");
    symbol = symbol < 0 ? inside(node, "name") : symbol;
    int name = inside(symbol, "name");
    String text = name < 0 ? null : detail.text(name, LONGEST_NAME);
    return text == null ? "" : text;
  }

  private int inside(int node, String field) throws IOException {
    return node < 0 ? -1 : detail.target(node, field);
  }

  /** Whether a static field has a constant of a compiled function: its own number is its name. */
  static boolean isConstant(String field) {
    return field.startsWith(CONSTANT)
        && field.length() > CONSTANT.length()
        && field.chars().skip(CONSTANT.length()).allMatch(Character::isDigit);
  }
}
