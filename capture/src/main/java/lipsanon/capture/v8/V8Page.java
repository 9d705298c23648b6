package lipsanon.capture.v8;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.TreeMap;
import java.util.concurrent.TimeUnit;
import lipsanon.capture.CaptureException;
import lipsanon.capture.RuntimeInfo;

/** Does things in a live page, and reads what the page counts itself. One thread. */
public final class V8Page {
  private static final int MOST_ELEMENTS = 4000;
  private static final long PATIENCE_SECONDS = 30;
  private static final long ELEMENT_SECONDS = 5;
  private static final String GROUP = "lipsanon";
  private static final ObjectMapper JSON = new ObjectMapper();

  private final Inspector inspector;

  private V8Page(Inspector inspector) {
    this.inspector = inspector;
  }

  /** Over a connection, which stays open: another one's end would make V8 forget identifiers. */
  public static V8Page of(V8Capture capture) {
    return new V8Page(capture.inspector());
  }

  /** Runs JavaScript in the page, and waits for the promise if it gives one. */
  public void run(String script) throws CaptureException {
    inspector.evaluate(script);
    settle();
  }

  /**
   * Clicks the first element that a CSS selector fits, as soon as there is one.
   *
   * @throws CaptureException if none fits
   */
  public void click(String selector) throws CaptureException {
    String clicked =
        "(() => { const element = document.querySelector("
            + quoted(selector)
            + "); if (element) element.click(); return Boolean(element); })()";
    if (!holds(clicked, ELEMENT_SECONDS)) {
      throw new CaptureException("no element of the page fits " + selector);
    }
    settle();
  }

  /** Goes to another address and back again. */
  public void visit(String url) throws CaptureException {
    JsonNode history = inspector.call("Page.getNavigationHistory");
    JsonNode here = history.path("entries").path(history.path("currentIndex").asInt());
    go(url);
    // by the history, which would otherwise become longer with every visit
    inspector.call(
        "Page.navigateToHistoryEntry", Inspector.params().put("entryId", here.path("id").asInt()));
    loaded("location.href === " + quoted(here.path("url").asText()), here.path("url").asText());
  }

  private void go(String url) throws CaptureException {
    // a mark that is gone once the new document is there
    inspector.evaluate("window.__lipsanonOld = true; 0");
    ObjectNode params = Inspector.params().put("url", url);
    JsonNode answer = inspector.call("Page.navigate", params);
    if (!answer.path("errorText").asText("").isEmpty()) {
      throw new CaptureException(url + ": " + answer.path("errorText").asText());
    }
    loaded("window.__lipsanonOld === undefined", url);
  }

  private void loaded(String condition, String url) throws CaptureException {
    if (!holds(condition + " && document.readyState === 'complete'", PATIENCE_SECONDS)) {
      throw new CaptureException(url + " was not loaded within " + PATIENCE_SECONDS + " s");
    }
    settle();
  }

  /** Whether a condition becomes true within some time. */
  private boolean holds(String condition, long seconds) throws CaptureException {
    long deadline = System.nanoTime() + TimeUnit.SECONDS.toNanos(seconds);
    while (System.nanoTime() < deadline) {
      try {
        if (inspector.evaluate(condition).asBoolean()) {
          return true;
        }
        TimeUnit.MILLISECONDS.sleep(20);
      } catch (InterruptedException e) {
        Thread.currentThread().interrupt();
        throw new CaptureException("interrupted", e);
      } catch (CaptureException e) {
        // between two documents there is nothing to evaluate in; a lost connection shows next time
        if (e.getMessage().contains("vanished") || e.getMessage().contains("SyntaxError")) {
          throw e;
        }
      }
    }
    return false;
  }

  /** Lets what was set off by an action happen: tasks, and a frame if frames are drawn. */
  private void settle() throws CaptureException {
    inspector.evaluate(
        "new Promise(done => { const late = setTimeout(done, 100);"
            + " requestAnimationFrame(() => setTimeout(() => { clearTimeout(late); done(); })); })");
  }

  /** Whether this target counts documents and nodes. */
  public static boolean isPage(RuntimeInfo info) {
    return info.kind().equals("page");
  }

  /** What the page counts itself, after a collection: documents, nodes, listeners. */
  public Map<String, Long> counters() throws CaptureException {
    inspector.call("HeapProfiler.collectGarbage");
    JsonNode answer = inspector.call("Memory.getDOMCounters");
    Map<String, Long> counters = new LinkedHashMap<>();
    counters.put("documents", answer.path("documents").asLong());
    counters.put("nodes", answer.path("nodes").asLong());
    counters.put("listeners", answer.path("jsEventListeners").asLong());
    return counters;
  }

  /** Says places in scripts in words. */
  public interface Places {
    /** A place in a script with an address; line and column from 0. */
    String text(String script, int line, int column);
  }

  /**
   * Event listeners of the window and of all elements, by type, element and place in the source.
   */
  public Map<String, Long> listeners(Places places) throws CaptureException {
    Map<String, String> scripts = new HashMap<>();
    inspector.call(
        "Debugger.enable",
        Inspector.params(),
        (method, params) -> {
          if (method.equals("Debugger.scriptParsed")) {
            scripts.put(params.path("scriptId").asText(), params.path("url").asText());
          }
        });
    inspector.call("Debugger.disable");
    Map<String, Long> counts = new TreeMap<>();
    ObjectNode all =
        Inspector.params()
            .put(
                "expression",
                "[window, document, ...document.querySelectorAll('*')].slice(0, "
                    + MOST_ELEMENTS
                    + ")")
            .put("objectGroup", GROUP);
    String list = inspector.call("Runtime.evaluate", all).at("/result/objectId").asText();
    ObjectNode own = Inspector.params().put("objectId", list).put("ownProperties", true);
    for (JsonNode property : inspector.call("Runtime.getProperties", own).path("result")) {
      JsonNode element = property.path("value");
      if (property.path("name").asText().matches("[0-9]+") && element.has("objectId")) {
        count(element, scripts, counts, places);
      }
    }
    inspector.call("Runtime.releaseObjectGroup", Inspector.params().put("objectGroup", GROUP));
    return counts;
  }

  private void count(
      JsonNode element, Map<String, String> scripts, Map<String, Long> counts, Places places)
      throws CaptureException {
    ObjectNode params = Inspector.params().put("objectId", element.path("objectId").asText());
    JsonNode answer = inspector.call("DOMDebugger.getEventListeners", params);
    String name = element.path("description").asText();
    for (JsonNode listener : answer.path("listeners")) {
      String url = scripts.getOrDefault(listener.path("scriptId").asText(), "");
      int line = listener.path("lineNumber").asInt();
      String place = places.text(url, line, listener.path("columnNumber").asInt());
      String key =
          listener.path("type").asText()
              + " on "
              + name
              + " ("
              + (url.isEmpty() ? "page:" + (line + 1) : place)
              + ")";
      counts.merge(key, 1L, Long::sum);
    }
  }

  private static String quoted(String text) {
    return JSON.getNodeFactory().textNode(text).toString();
  }
}
