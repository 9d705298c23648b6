package lipsanon.format.v8;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.StreamReadConstraints;

/**
 * The form of a V8 heap snapshot, as V8's own HeapSnapshotJSONSerializer writes it. One JSON object
 * whose members stand in this order:
 *
 * <pre>
 * snapshot             meta (names of all columns below, and of node and edge types), node_count,
 *                      edge_count, trace_function_count
 * nodes                flat: one row of node_fields a node
 * edges                flat: one row of edge_fields an edge; edges of node 0 first, then of node 1;
 *                      how many a node has stands in its row; to_node is an index into nodes
 * trace_function_infos flat: where objects were allocated, if that was recorded
 * trace_tree           nested rows of trace_node_fields
 * samples              flat: time against the last identifier given out
 * locations            flat: object_index (into nodes), script_id, line, column (from 0)
 * strings              names; nodes and edges hold indexes into them
 * </pre>
 *
 * Which column stands where is always taken from {@code meta}. Strings come last, so that a file
 * that was cut off has no names at all.
 */
final class V8Format {
  /** How a file begins. */
  static final String MAGIC = "{\"snapshot\":";

  static final String HIDDEN = "hidden";
  static final String ARRAY = "array";
  static final String STRING = "string";
  static final String OBJECT = "object";

  /** The class of Node.js of what a file is loaded as. */
  static final String MODULE = "Module";

  static final String CODE = "code";
  static final String CLOSURE = "closure";
  static final String NUMBER = "number";
  static final String NATIVE = "native";
  static final String SHAPE = "object shape";
  static final String SYNTHETIC = "synthetic";
  static final String CONCATENATED = "concatenated string";
  static final String SLICED = "sliced string";

  /** Lists of roots that hold weakly, whatever type their edges have. */
  static final java.util.Set<String> WEAK_TABLES =
      java.util.Set.of("Internalized strings", "External strings");

  /**
   * Lists in which Node.js (20; 22; 24) notes all its own objects for its end, also those that go
   * as soon as no JavaScript refers to them; the others are roots anyway.
   */
  static final java.util.Set<String> NOTING =
      java.util.Set.of("Node / CleanupQueue", "Node / BaseObjectList", "Node / CppgcWrapperList");

  static final String EDGE_CONTEXT = "context";
  static final String EDGE_ELEMENT = "element";
  static final String EDGE_PROPERTY = "property";
  static final String EDGE_INTERNAL = "internal";
  static final String EDGE_HIDDEN = "hidden";
  static final String EDGE_SHORTCUT = "shortcut";
  static final String EDGE_WEAK = "weak";

  /** Extra columns of the index: where each string stands in the file. */
  static final String STRINGS = "strings";

  /** Where the edges of each object begin in the file. */
  static final String EDGES = "edges";

  /** Objects with a known place in a script, ascending; the three columns belong together. */
  static final String LOCATED = "located";

  static final String SCRIPT = "script";

  /**
   * Line and column, both from 0: line &lt;&lt; 28 | column, where a longer column counts as
   * 2^28-1.
   */
  static final String PLACE = "place";

  /** By object: the stack that allocated it, 0 if that was before the recording; may be absent. */
  static final String TRACE = "trace";

  static final int COLUMN_BITS = 28;

  /** A parser for files of any depth (the trace tree is nested as deep as stacks were). */
  static final JsonFactory JSON =
      JsonFactory.builder()
          .streamReadConstraints(
              StreamReadConstraints.builder()
                  .maxNestingDepth(Integer.MAX_VALUE)
                  .maxStringLength(Integer.MAX_VALUE)
                  .build())
          .disable(JsonFactory.Feature.INTERN_FIELD_NAMES)
          .build();

  private V8Format() {}
}
