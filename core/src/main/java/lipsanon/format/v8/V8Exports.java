package lipsanon.format.v8;

import java.io.IOException;
import lipsanon.array.IntList;
import lipsanon.index.Snapshot;

/**
 * Says which variable of a module a cell is. What an ECMAScript module exports lies in no scope of
 * it, but each value in a cell of its own; the module's table of exports leads from names to cells,
 * and the scope of the module's top level refers to the module.
 */
final class V8Exports {
  private static final String CELL = "system / Cell";
  private static final String MODULE = "system / SourceTextModule";
  private static final String VALUE = "value";
  private static final int MOST_REFERRING = 64;

  private final Snapshot snapshot;
  private final V8Rows rows;
  private final V8Scopes scopes;

  V8Exports(Snapshot snapshot, V8Rows rows, V8Scopes scopes) {
    this.snapshot = snapshot;
    this.rows = rows;
    this.scopes = scopes;
  }

  /**
   * An exported variable.
   *
   * @param scope that of its module
   */
  record Export(String name, V8Scopes.Scope scope) {}

  /** The variable whose value an edge of a node leads to; null if that is no module's cell. */
  Export of(int from, V8Rows.Node node, String edge) throws IOException {
    if (!edge.equals(VALUE)
        || !node.type().equals(V8Format.HIDDEN)
        || !rows.text(node.name()).equals(CELL)) {
      return null;
    }
    Export first = null;
    IntList referring = snapshot.inbound(from);
    for (int i = 0; i < Math.min(referring.size(), MOST_REFERRING); i++) {
      int table = referring.get(i);
      String name = nameIn(table, from);
      int module = name.isEmpty() ? -1 : module(table);
      int context = module < 0 ? -1 : context(module);
      if (context >= 0) {
        Export export = new Export(name, scopes.of(context));
        if (hasAsItsOwn(module, referring, table)) {
          return export;
        }
        first = first == null ? export : first;
      }
    }
    return first;
  }

  /** Whether a module has a cell in its list of variables, and not only passes on its name. */
  private boolean hasAsItsOwn(int module, IntList referring, int table) {
    for (int i = 0; i < Math.min(referring.size(), MOST_REFERRING); i++) {
      int other = referring.get(i);
      if (other != table && snapshot.inbound(other).contains(module)) {
        return true;
      }
    }
    return false;
  }

  /** The name before a cell in a table of exports; "" if there is none. */
  private String nameIn(int table, int cell) throws IOException {
    V8Rows.Node row = rows.node(table);
    if (!row.type().equals(V8Format.ARRAY)) {
      return "";
    }
    String[] name = {"", ""};
    rows.edges(
        table,
        row.edges(),
        (type, edge, target) -> {
          if (target == cell) {
            name[0] = name[1];
            return false;
          }
          V8Rows.Node key = rows.node(target);
          name[1] = key.type().equals(V8Format.STRING) ? rows.text(key.name()) : "";
          return true;
        });
    return name[0];
  }

  /** The module whose exports a table has; -1 if it is no such table. */
  private int module(int table) throws IOException {
    IntList modules = snapshot.inbound(table);
    for (int i = 0; i < Math.min(modules.size(), MOST_REFERRING); i++) {
      if (isHidden(modules.get(i), MODULE)) {
        return modules.get(i);
      }
    }
    return -1;
  }

  /** The scope of a module's top level, or -1. */
  private int context(int module) {
    IntList referring = snapshot.inbound(module);
    for (int k = 0; k < Math.min(referring.size(), MOST_REFERRING); k++) {
      if (V8Scopes.isContext(snapshot.typeName(referring.get(k)))) {
        return referring.get(k);
      }
    }
    return -1;
  }

  private boolean isHidden(int node, String name) throws IOException {
    V8Rows.Node row = rows.node(node);
    return row.type().equals(V8Format.HIDDEN) && rows.text(row.name()).equals(name);
  }
}
