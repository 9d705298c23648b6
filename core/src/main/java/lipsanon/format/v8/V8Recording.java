package lipsanon.format.v8;

import com.fasterxml.jackson.core.JacksonException;
import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.JsonToken;
import java.io.IOException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import lipsanon.index.PackedColumn;
import lipsanon.index.Recording;
import lipsanon.index.Snapshot;
import lipsanon.io.ByteSource;
import lipsanon.io.CorruptInputException;
import lipsanon.io.SourceStream;

/**
 * Reads the allocations that a snapshot tells of: trace_function_infos, trace_tree and samples. The
 * tree may be as deep as stacks were; nothing recurses.
 */
final class V8Recording {
  /** Member that {@code lipsanon capture} adds: bytes seen at the end of each interval. */
  static final String INTERVALS = "lipsanon_interval_bytes";

  private final ByteSource source;
  private final V8Layout layout;
  private final V8Rows rows;
  private final Map<Integer, Integer> nodeOfId = new HashMap<>();
  private final List<Integer> parents = new ArrayList<>();
  private final List<Integer> frames = new ArrayList<>();
  private final List<Long> counts = new ArrayList<>();
  private final List<Long> sizes = new ArrayList<>();
  private final V8SourceMaps maps;
  private long strings;

  V8Recording(ByteSource source, V8Layout layout, V8Rows rows) {
    this.source = source;
    this.layout = layout;
    this.rows = rows;
    this.maps = rows.sourceMaps();
  }

  /** Null if the snapshot tells nothing of allocations. */
  Recording read(Snapshot snapshot) throws IOException {
    PackedColumn traces = snapshot.extra(V8Format.TRACE);
    if (traces == null) {
      return null;
    }
    strings = snapshot.extra(V8Format.STRINGS).count();
    List<Recording.Frame> functions = functions();
    tree();
    for (int function : frames) {
      if (function < 0 || function >= functions.size()) {
        throw new CorruptInputException(
            source.name(),
            layout.members().getOrDefault("trace_tree", 0L),
            "a stack of function " + function,
            "fewer than the " + functions.size() + " functions");
      }
    }
    int count = parents.size();
    if (count == 0) {
      return null;
    }
    long[] liveCount = new long[count];
    long[] liveBytes = new long[count];
    for (int n = 0; n < snapshot.objectCount(); n++) {
      int node = nodeOfId.getOrDefault(traces.getInt(n), -1);
      if (node >= 0) {
        liveCount[node]++;
        liveBytes[node] += snapshot.shallowBytes(n);
      }
    }
    long[] samples = numbers("samples");
    int width = Math.max(2, layout.meta().width("sample_fields"));
    int timeAt = Math.max(0, layout.meta().column("sample_fields", "timestamp_us"));
    int idAt = Math.max(1, layout.meta().column("sample_fields", "last_assigned_id"));
    long[] ends = new long[samples.length / width];
    long[] ids = new long[ends.length];
    for (int i = 0; i < ends.length; i++) {
      ends[i] = samples[i * width + timeAt] / 1000;
      ids[i] = samples[i * width + idAt];
    }
    return new Recording(
        "every allocation recorded",
        false,
        functions,
        toInts(parents),
        toInts(frames),
        counts.stream().mapToLong(Long::longValue).toArray(),
        sizes.stream().mapToLong(Long::longValue).toArray(),
        liveCount,
        liveBytes,
        ends,
        ids,
        numbers(INTERVALS));
  }

  /** The node of an object's stack, or -1. */
  int nodeOf(Snapshot snapshot, int object) {
    PackedColumn traces = snapshot.extra(V8Format.TRACE);
    return traces == null ? -1 : nodeOfId.getOrDefault(traces.getInt(object), -1);
  }

  private static int[] toInts(List<Integer> list) {
    return list.stream().mapToInt(Integer::intValue).toArray();
  }

  private long[] numbers(String member) throws IOException {
    Long begin = layout.members().get(member);
    if (begin == null) {
      return new long[0];
    }
    NumberScanner in = new NumberScanner(source, begin);
    long[] values = new long[64];
    int count = 0;
    for (long value = in.next(); value != NumberScanner.END; value = in.next()) {
      if (count == values.length) {
        values = Arrays.copyOf(values, count * 2);
      }
      values[count++] = value;
    }
    return Arrays.copyOf(values, count);
  }

  private List<Recording.Frame> functions() throws IOException {
    String fields = "trace_function_info_fields";
    V8Meta meta = layout.meta();
    long[] values = numbers("trace_function_infos");
    int width = Math.max(1, meta.width(fields));
    int scriptAt = meta.column(fields, "script_id");
    List<Recording.Frame> functions = new ArrayList<>();
    for (int at = 0; at + width <= values.length; at += width) {
      String name = text(values[at + column(fields, "name")]);
      String script = text(values[at + column(fields, "script_name")]);
      int number = scriptAt < 0 ? -1 : (int) values[at + scriptAt];
      functions.add(
          frame(
              name,
              script,
              (int) values[at + column(fields, "line")],
              (int) values[at + column(fields, "column")],
              maps.of(number)));
    }
    return functions;
  }

  private String text(long index) throws IOException {
    if (index < 0 || index >= strings) {
      throw new CorruptInputException(
          source.name(),
          layout.members().get("trace_function_infos"),
          "a function with name " + index,
          "fewer than the " + strings + " strings");
    }
    return rows.text(index);
  }

  /**
   * A frame as both kinds of recordings tell it.
   *
   * @param line from 1
   * @param column from 1
   * @param map of the script, or null
   */
  static Recording.Frame frame(String name, String script, int line, int column, SourceMap map) {
    SourceMap.Original written = map == null ? null : map.original(line - 1, column - 1);
    if (written != null) {
      String called = map.written(line - 1, column - 1, name);
      return frame(called, written.source(), written.line() + 1, written.column() + 1, null);
    }
    return new Recording.Frame(
        name.isEmpty() ? "(anonymous)" : name,
        script,
        line,
        column,
        script.isEmpty() || V8Scripts.isLibrary(script));
  }

  private int column(String list, String name) throws CorruptInputException {
    int at = layout.meta().column(list, name);
    if (at < 0) {
      throw new CorruptInputException(source.name(), 0, list + " without \"" + name + "\"", "it");
    }
    return at;
  }

  /** Rows of numbers, one of which is a list of rows again. */
  private void tree() throws IOException {
    Long begin = layout.members().get("trace_tree");
    if (begin == null) {
      return;
    }
    String fields = "trace_node_fields";
    int idAt = column(fields, "id");
    int functionAt = column(fields, "function_info_index");
    int countAt = column(fields, "count");
    int sizeAt = column(fields, "size");
    int width = layout.meta().width(fields);
    // for each open list: the node whose children it holds, and how far its row is
    int[] owners = new int[64];
    long[] row = new long[width];
    int depth = 0;
    int at = 0;
    int node = -1;
    try (JsonParser json =
        V8Format.JSON.createParser(new SourceStream(source, begin - 1, source.size()))) {
      for (JsonToken token = json.nextToken(); token != null; token = json.nextToken()) {
        if (token == JsonToken.START_ARRAY) {
          if (depth == owners.length) {
            owners = Arrays.copyOf(owners, depth * 2);
          }
          if (depth > 0) {
            // the row is complete but for this list, which stands last
            node = add(owners[depth - 1], row[idAt], row[functionAt], row[countAt], row[sizeAt]);
          }
          owners[depth++] = node;
          at = 0;
        } else if (token == JsonToken.END_ARRAY) {
          depth--;
          at = 0;
          if (depth == 0) {
            return;
          }
        } else if (token == JsonToken.VALUE_NUMBER_INT && at < width) {
          row[at++] = json.getLongValue();
        }
      }
    } catch (JacksonException e) {
      throw new CorruptInputException(source.name(), begin, "what is no JSON", "a tree of stacks");
    }
  }

  private int add(int parent, long id, long function, long count, long size) {
    int node = parents.size();
    nodeOfId.put((int) id, node);
    parents.add(parent);
    frames.add((int) function);
    counts.add(count);
    sizes.add(size);
    return node;
  }
}
