package lipsanon.capture.v8;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import lipsanon.capture.CaptureException;

/**
 * Who adds to a live collection: the object is found by the identifier that it has in a snapshot of
 * the same connection, its adding methods are wrapped while an action is done once more, and put
 * back afterwards. A property that is new to an object is noticed by a proxy in its prototype's
 * place. This touches the target; it is done only when it is asked for.
 */
public final class V8Adders {
  private static final String GROUP = "lipsanon-adders";
  private static final int MOST_STACKS = 2000;

  /** Wraps; {@code this} is the collection. Returns what stacks are kept in. */
  private static final String WRAP =
      """
      function (most) {
        const target = this, stacks = [], proto = Object.getPrototypeOf(target);
        const undo = [];
        let inside = 0;
        const note = (wrapper) => {
          if (stacks.length >= most) return;
          const limit = Error.stackTraceLimit;
          Error.stackTraceLimit = 30;
          const at = {};
          Error.captureStackTrace(at, wrapper);
          Error.stackTraceLimit = limit;
          stacks.push(String(at.stack));
        };
        const wrap = (name) => {
          const original = target[name];
          if (typeof original !== 'function') return;
          const own = Object.getOwnPropertyDescriptor(target, name);
          const wrapper = function (...given) {
            note(wrapper);
            inside++;
            try { return Reflect.apply(original, this, given); } finally { inside--; }
          };
          Object.defineProperty(target, name,
              { value: wrapper, configurable: true, enumerable: false, writable: true });
          undo.push(() => own ? Object.defineProperty(target, name, own) : delete target[name]);
        };
        if (Array.isArray(target)) ['push', 'unshift', 'splice'].forEach(wrap);
        else if (target instanceof Map) wrap('set');
        else if (target instanceof Set) wrap('add');
        if (!(target instanceof Map) && !(target instanceof Set)) {
          const handler = {
            set: function added(t, key, value, receiver) {
              if (receiver === target && inside === 0) note(added);
              return Reflect.set(t, key, value, receiver);
            }
          };
          Object.setPrototypeOf(target, new Proxy(proto === null ? Object.create(null) : proto,
              handler));
          undo.push(() => Object.setPrototypeOf(target, proto));
        }
        return { stacks, undo: () => { undo.reverse().forEach((back) => back()); return stacks; } };
      }
      """;

  private V8Adders() {}

  /** Does the action once. */
  public interface Once {
    /** Returns null, or what went wrong. */
    String perform() throws Exception;
  }

  /**
   * A place that adds.
   *
   * @param count how often
   * @param frames the call stack in words, innermost first
   */
  public record Adder(int count, List<String> frames) {}

  /**
   * Watches a collection while an action is done.
   *
   * @param snapshotId the object's number in a snapshot of this connection
   * @throws CaptureException if the object is gone or cannot be watched
   */
  public static List<Adder> watch(V8Capture capture, long snapshotId, Once action)
      throws Exception {
    Inspector inspector = capture.inspector();
    ObjectNode find =
        Inspector.params().put("objectId", Long.toString(snapshotId)).put("objectGroup", GROUP);
    String object =
        inspector
            .call("HeapProfiler.getObjectByHeapObjectId", find)
            .path("result")
            .path("objectId")
            .asText("");
    if (object.isEmpty()) {
      throw new CaptureException("the collection @" + snapshotId + " is not there any more");
    }
    String watch = call(inspector, object, WRAP, MOST_STACKS).path("objectId").asText("");
    if (watch.isEmpty()) {
      throw new CaptureException("the collection @" + snapshotId + " cannot be watched");
    }
    String problem;
    JsonNode stacks;
    try {
      problem = action.perform();
    } finally {
      stacks = value(inspector, watch, "function () { return this.undo(); }");
      inspector.call("Runtime.releaseObjectGroup", Inspector.params().put("objectGroup", GROUP));
    }
    if (problem != null) {
      throw new CaptureException("the action failed: " + problem);
    }
    Map<String, Integer> counts = new LinkedHashMap<>();
    for (JsonNode stack : stacks) {
      counts.merge(stack.asText(), 1, Integer::sum);
    }
    List<Adder> adders = new ArrayList<>();
    counts.forEach((stack, count) -> adders.add(new Adder(count, frames(stack))));
    adders.sort((a, b) -> Integer.compare(b.count(), a.count()));
    return adders;
  }

  private static List<String> frames(String stack) {
    List<String> frames = new ArrayList<>();
    for (String line : stack.split("\n")) {
      String plain = line.strip();
      if (plain.startsWith("at ")) {
        frames.add(plain.substring(3).replace("file://", ""));
      }
    }
    return frames;
  }

  private static JsonNode call(Inspector inspector, String object, String function, int argument)
      throws CaptureException {
    ObjectNode params = params(object, function);
    params.putArray("arguments").addObject().put("value", argument);
    return result(inspector.call("Runtime.callFunctionOn", params));
  }

  private static JsonNode value(Inspector inspector, String object, String function)
      throws CaptureException {
    ObjectNode params = params(object, function).put("returnByValue", true);
    return result(inspector.call("Runtime.callFunctionOn", params)).path("value");
  }

  private static ObjectNode params(String object, String function) {
    return Inspector.params()
        .put("objectId", object)
        .put("functionDeclaration", function)
        .put("objectGroup", GROUP);
  }

  private static JsonNode result(JsonNode answer) throws CaptureException {
    if (answer.has("exceptionDetails")) {
      throw new CaptureException(
          "the collection cannot be watched: "
              + answer
                  .at("/exceptionDetails/exception/description")
                  .asText("")
                  .lines()
                  .findFirst()
                  .orElse("the target threw"));
    }
    return answer.path("result");
  }
}
