package lipsanon.format.v8;

import com.fasterxml.jackson.core.JacksonException;
import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.JsonToken;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import lipsanon.index.Recording;
import lipsanon.io.CorruptInputException;
import lipsanon.io.UnsupportedInputException;

/**
 * Reads a sampling heap profile of V8: {@code {"head": Node, "samples": [...]}}, where a node has a
 * callFrame (lines and columns from 0), selfSize, id and children. Nothing recurses.
 */
public final class SampledProfile {
  private final List<CallFrame> frames = new ArrayList<>();
  private final List<Integer> parents = new ArrayList<>();
  private final List<Long> bytes = new ArrayList<>();
  private final java.util.Map<Long, Integer> nodeOfId = new java.util.HashMap<>();
  private final List<Long> counts = new ArrayList<>();
  private java.util.Map<Integer, ScriptMap> maps = java.util.Map.of();
  private boolean freedToo;

  /** A frame as the profile has it; line and column from 0. */
  private record CallFrame(String function, String url, int script, int line, int column) {
    static final CallFrame NONE = new CallFrame("", "", -1, -1, -1);

    Recording.Frame frame(java.util.Map<Integer, ScriptMap> maps) {
      ScriptMap map = maps.get(script);
      SourceMap source = map == null ? null : map.map();
      return V8Recording.frame(function, url, line + 1, column + 1, source);
    }
  }

  private SampledProfile() {}

  /** Whether a file that begins so can be such a profile. */
  public static boolean matches(byte[] head) {
    return new String(head, java.nio.charset.StandardCharsets.ISO_8859_1)
        .replaceAll("\\s", "")
        .startsWith("{\"head\":");
  }

  /**
   * Reads a profile.
   *
   * @throws lipsanon.io.InputException if the file is none or damaged
   */
  public static Recording read(Path file) throws IOException {
    SampledProfile profile = new SampledProfile();
    try (JsonParser json = V8Format.JSON.createParser(Files.newInputStream(file))) {
      profile.parse(json);
    } catch (JacksonException e) {
      throw new CorruptInputException(
          file.toString(),
          e.getLocation() == null ? 0 : Math.max(0, e.getLocation().getByteOffset()),
          "what is no JSON",
          "a sampling heap profile");
    }
    if (profile.parents.isEmpty()) {
      throw new UnsupportedInputException(file.toString(), "holds no allocations");
    }
    return profile.recording();
  }

  private void parse(JsonParser json) throws IOException {
    json.nextToken();
    while (json.nextToken() == JsonToken.FIELD_NAME) {
      String name = json.currentName();
      json.nextToken();
      switch (name) {
        case "head" -> tree(json);
        case "samples" -> samples(json);
        case "lipsanon" -> notes(json);
        case ScriptMap.MEMBER -> maps = ScriptMap.readAll(json);
        default -> json.skipChildren();
      }
    }
  }

  /** The parser stands on the opening brace of the root. */
  private void tree(JsonParser json) throws IOException {
    List<Integer> open = new ArrayList<>();
    do {
      switch (json.currentToken()) {
        case START_OBJECT -> {
          open.add(parents.size());
          parents.add(open.size() < 2 ? -1 : open.get(open.size() - 2));
          bytes.add(0L);
          counts.add(0L);
          frames.add(CallFrame.NONE);
        }
        case END_OBJECT -> open.remove(open.size() - 1);
        case FIELD_NAME -> member(json, open.get(open.size() - 1));
        default -> {}
      }
    } while (!open.isEmpty() && json.nextToken() != null);
  }

  private void member(JsonParser json, int node) throws IOException {
    String name = json.currentName();
    if (name.equals("children")) {
      // its elements come by themselves
      return;
    }
    json.nextToken();
    switch (name) {
      case "callFrame" -> frames.set(node, callFrame(json));
      case "selfSize" -> bytes.set(node, json.getValueAsLong());
      case "id" -> nodeOfId.put(json.getValueAsLong(), node);
      default -> json.skipChildren();
    }
  }

  private static CallFrame callFrame(JsonParser json) throws IOException {
    String function = "";
    String url = "";
    int script = -1;
    int line = -1;
    int column = -1;
    while (json.nextToken() == JsonToken.FIELD_NAME) {
      String name = json.currentName();
      json.nextToken();
      switch (name) {
        case "functionName" -> function = json.getValueAsString("");
        case "scriptId" -> script = json.getValueAsInt(-1);
        case "url" -> url = json.getValueAsString("");
        case "lineNumber" -> line = json.getValueAsInt(-1);
        case "columnNumber" -> column = json.getValueAsInt(-1);
        default -> json.skipChildren();
      }
    }
    return new CallFrame(function, url, script, line, column);
  }

  private void samples(JsonParser json) throws IOException {
    while (json.nextToken() == JsonToken.START_OBJECT) {
      while (json.nextToken() == JsonToken.FIELD_NAME) {
        boolean id = json.currentName().equals("nodeId");
        json.nextToken();
        Integer node = id ? nodeOfId.get(json.getValueAsLong()) : null;
        if (node != null) {
          counts.set(node, counts.get(node) + 1);
        }
      }
    }
  }

  private void notes(JsonParser json) throws IOException {
    while (json.nextToken() == JsonToken.FIELD_NAME) {
      String name = json.currentName();
      json.nextToken();
      if (name.equals("freedToo")) {
        freedToo = json.getValueAsBoolean();
      } else {
        json.skipChildren();
      }
    }
  }

  private Recording recording() {
    int count = parents.size();
    int[] parent = parents.stream().mapToInt(Integer::intValue).toArray();
    int[] frame = new int[count];
    for (int i = 0; i < count; i++) {
      frame[i] = i;
    }
    long[] sampled = counts.stream().mapToLong(Long::longValue).toArray();
    long[] sizes = bytes.stream().mapToLong(Long::longValue).toArray();
    long[] none = new long[count];
    return new Recording(
        freedToo ? "sampled, freed objects included" : "sampled, objects still alive only",
        true,
        frames.stream().map(called -> called.frame(maps)).toList(),
        parent,
        frame,
        freedToo ? sampled : none,
        freedToo ? sizes : none,
        freedToo ? none : sampled,
        freedToo ? none : sizes,
        new long[0],
        new long[0],
        new long[0]);
  }
}
